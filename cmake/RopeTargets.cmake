# SPDX-License-Identifier: GPL-3.0-or-later
# How every target of this project is made: one static library per folder, one test program per unit.

add_library(rope_options INTERFACE)
target_compile_options(rope_options INTERFACE
    -Wall -Wextra -Wpedantic -Wshadow -Wconversion -Wsign-conversion -Wold-style-cast
    -Wnon-virtual-dtor -Woverloaded-virtual -Wformat=2 -Werror
    $<$<CXX_COMPILER_ID:GNU>:-Wuseless-cast -Wduplicated-cond -Wlogical-op>
    # gcc 12 reports these for std::string in optimised builds where nothing overlaps or overflows (gcc bug 105329).
    $<$<CXX_COMPILER_ID:GNU>:-Wno-restrict -Wno-stringop-overflow -Wno-stringop-overread -Wno-array-bounds>)
target_compile_definitions(rope_options INTERFACE
    QT_NO_CAST_FROM_ASCII QT_NO_CAST_TO_ASCII QT_NO_FOREACH
    QT_NO_NARROWING_CONVERSIONS_IN_CONNECT QT_DISABLE_DEPRECATED_BEFORE=0x060400
    $<$<NOT:$<CONFIG:Release>>:_GLIBCXX_ASSERTIONS>)
target_include_directories(rope_options INTERFACE ${PROJECT_SOURCE_DIR})
if(ROPE_SANITIZE)
    # What is left out takes half of the compiler's time, and but for alignment the address sanitizer finds it too.
    target_compile_options(rope_options INTERFACE -fsanitize=address,undefined -fno-omit-frame-pointer
        -fno-sanitize=null,alignment,vptr,object-size)
    target_link_options(rope_options INTERFACE -fsanitize=address,undefined)
endif()

# All core tests at once, and what moc makes, which clang-tidy has to see.
add_custom_target(core-tests)
add_custom_target(moc-sources)

# rope_library(NAME SOURCES ... HEADERS ... LINK ... [QT])
# QT: the folder has classes for moc. PCH: headers to precompile; PCH_FROM: the library whose precompiled
# headers are shared (same Qt modules, so that the compiler accepts them).
function(rope_library name)
    cmake_parse_arguments(ARG "QT" "PCH_FROM" "SOURCES;HEADERS;LINK;PCH" ${ARGN})
    add_library(rope_${name} STATIC ${ARG_SOURCES})
    add_library(rope::${name} ALIAS rope_${name})
    target_sources(rope_${name} PUBLIC FILE_SET HEADERS
        BASE_DIRS ${PROJECT_SOURCE_DIR} FILES ${ARG_HEADERS})
    target_link_libraries(rope_${name} PUBLIC ${ARG_LINK} PRIVATE rope_options)
    target_include_directories(rope_${name} PUBLIC ${PROJECT_SOURCE_DIR})
    set_target_properties(rope_${name} PROPERTIES VERIFY_INTERFACE_HEADER_SETS ON)
    if(ARG_QT)
        # moc reads headers only: it need not wait for the libraries that this one is linked with.
        set_target_properties(rope_${name} PROPERTIES AUTOMOC ON AUTOGEN_ORIGIN_DEPENDS OFF)
        add_dependencies(moc-sources rope_${name}_autogen)
    endif()
    if(ROPE_PCH AND ARG_PCH)
        target_precompile_headers(rope_${name} PRIVATE ${ARG_PCH})
    elseif(ROPE_PCH AND ARG_PCH_FROM)
        target_precompile_headers(rope_${name} REUSE_FROM rope_${ARG_PCH_FROM})
    endif()
endfunction()

# What nearly every test includes, precompiled once for each label by its first test, which must define no
# macro that the others do not. QTest's headers look at which Qt modules are linked: all tests of a label link the same.
set(ROPE_TEST_MODULES_core Qt6::Network)
set(ROPE_TEST_MODULES_desktop Qt6::Widgets Qt6::Network)
set(ROPE_TEST_HEADERS_core <QTest> <QProcess> <QTemporaryDir> <QFile> <functional> <map> <set> <string> <variant> <vector>)
set(ROPE_TEST_HEADERS_desktop ${ROPE_TEST_HEADERS_core} <QtWidgets>)

# rope_test(NAME FOLDER LABEL LINK ...): tests/FOLDER/tst_NAME.cpp, run offscreen with a home of its own.
function(rope_test name folder label)
    add_executable(tst_${name} ${folder}/tst_${name}.cpp)
    # The one class in it that moc has to read stands in the source itself. AUTOMOC would compile a second, empty
    # source for each test: a tenth of the whole build.
    qt6_generate_moc(${folder}/tst_${name}.cpp ${CMAKE_CURRENT_BINARY_DIR}/moc/tst_${name}.moc)
    target_sources(tst_${name} PRIVATE ${CMAKE_CURRENT_BINARY_DIR}/moc/tst_${name}.moc)
    target_include_directories(tst_${name} PRIVATE ${CMAKE_CURRENT_BINARY_DIR}/moc)
    set_target_properties(tst_${name} PROPERTIES RUNTIME_OUTPUT_DIRECTORY ${CMAKE_BINARY_DIR}/tests)
    target_link_libraries(tst_${name} PRIVATE Qt6::Test ${ROPE_TEST_MODULES_${label}} rope_options ${ARGN})
    add_test(NAME ${name} COMMAND tst_${name})
    get_property(precompiled GLOBAL PROPERTY ROPE_TEST_HEADERS_OF_${label})
    if(ROPE_PCH AND precompiled)
        target_precompile_headers(tst_${name} REUSE_FROM ${precompiled})
    elseif(ROPE_PCH)
        target_precompile_headers(tst_${name} PRIVATE ${ROPE_TEST_HEADERS_${label}})
        set_property(GLOBAL PROPERTY ROPE_TEST_HEADERS_OF_${label} tst_${name})
    endif()
    if(label STREQUAL core)
        add_dependencies(core-tests tst_${name})
    endif()
    set_tests_properties(${name} PROPERTIES LABELS ${label} TIMEOUT 400
        ENVIRONMENT "${ROPE_TEST_ENVIRONMENT};HOME=${CMAKE_BINARY_DIR}/test-home/${name};XDG_CONFIG_HOME=${CMAKE_BINARY_DIR}/test-home/${name}/config;XDG_STATE_HOME=${CMAKE_BINARY_DIR}/test-home/${name}/state;XDG_DATA_HOME=${CMAKE_BINARY_DIR}/test-home/${name}/data;XDG_CACHE_HOME=${CMAKE_BINARY_DIR}/test-home/${name}/cache")
endfunction()

set(ROPE_TEST_ENVIRONMENT
    "QT_QPA_PLATFORM=offscreen" "LC_ALL=C.UTF-8" "GIT_CONFIG_GLOBAL=/dev/null" "GIT_CONFIG_NOSYSTEM=1"
    "ROPE_SPLICE_PROGRAM=${CMAKE_BINARY_DIR}/bin/rope-splice")
