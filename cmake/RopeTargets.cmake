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
if(ROPE_PCH)
    target_compile_options(rope_options INTERFACE $<$<CXX_COMPILER_ID:GNU>:-fpch-preprocess>)  # ccache needs it
endif()
if(ROPE_SANITIZE)
    # What is left out takes half of the compiler's time, and but for alignment the address sanitizer finds it too.
    target_compile_options(rope_options INTERFACE -fsanitize=address,undefined -fno-omit-frame-pointer
        -fno-sanitize=null,alignment,vptr,object-size)
    target_link_options(rope_options INTERFACE -fsanitize=address,undefined)
endif()

# What moc makes, which clang-tidy has to see.
add_custom_target(moc-sources)

# rope_moc(TARGET FILE OUTPUT): makes OUTPUT, a source of TARGET. AUTOMOC would start a scanner for each target: a tenth of
# the whole build.
function(rope_moc target file output)
    get_filename_component(stem ${output} NAME_WE)
    set(made ${CMAKE_CURRENT_BINARY_DIR}/moc/${output})
    qt6_generate_moc(${file} ${made})
    set_source_files_properties(${made} PROPERTIES UNITY_GROUP moc)
    target_sources(${target} PRIVATE ${made})
    target_include_directories(${target} PRIVATE ${CMAKE_CURRENT_BINARY_DIR}/moc)
    add_custom_target(${target}-${stem}-moc DEPENDS ${made})
    add_dependencies(moc-sources ${target}-${stem}-moc)
endfunction()

# rope_library(NAME SOURCES ... HEADERS ... LINK ... [PLAIN_SPEED])
# PLAIN_SPEED: nothing in it is worked out that takes time; the compiler spends half of its own on it.
# PCH: headers to precompile; PCH_FROM: the library whose precompiled headers are shared (same Qt modules and flags, so
# that the compiler accepts them). A header with its first Q_OBJECT is seen when CMake runs again (./dev build).
function(rope_library name)
    cmake_parse_arguments(ARG "PLAIN_SPEED" "PCH_FROM" "SOURCES;HEADERS;LINK;PCH" ${ARGN})
    add_library(rope_${name} STATIC ${ARG_SOURCES})
    add_library(rope::${name} ALIAS rope_${name})
    target_sources(rope_${name} PUBLIC FILE_SET HEADERS
        BASE_DIRS ${PROJECT_SOURCE_DIR} FILES ${ARG_HEADERS})
    target_link_libraries(rope_${name} PUBLIC ${ARG_LINK} PRIVATE rope_options)
    target_include_directories(rope_${name} PUBLIC ${PROJECT_SOURCE_DIR})
    set_target_properties(rope_${name} PROPERTIES VERIFY_INTERFACE_HEADER_SETS ON
        UNITY_BUILD ON UNITY_BUILD_BATCH_SIZE ${ROPE_UNITY_BATCH})
    if(NOT ROPE_UNITY)
        set_target_properties(rope_${name} PROPERTIES UNITY_BUILD_MODE GROUP)  # what moc makes, and nothing else
    endif()
    if(ARG_PLAIN_SPEED)
        target_compile_options(rope_${name} PRIVATE ${ROPE_PLAIN_SPEED})
    endif()
    foreach(header IN LISTS ARG_HEADERS)
        file(STRINGS ${header} objects REGEX "Q_OBJECT" LIMIT_COUNT 1)
        if(objects)
            get_filename_component(stem ${header} NAME_WE)
            rope_moc(rope_${name} ${header} moc_${stem}.cpp)
        endif()
    endforeach()
    if(ROPE_PCH AND ARG_PCH)
        target_precompile_headers(rope_${name} PRIVATE ${ARG_PCH})
    elseif(ROPE_PCH AND ARG_PCH_FROM)
        target_precompile_headers(rope_${name} REUSE_FROM rope_${ARG_PCH_FROM})
    endif()
endfunction()

# rope_tests(LABEL TESTS NAME ... LINK ... PCH ...): one program, rope-splice-LABEL-tests, of all tests/LABEL/tst_NAME.cpp;
# each is a test of its own for ctest, run offscreen with a home of its own. Test code is not optimised: that would
# take longer than it saves.
function(rope_tests label)
    cmake_parse_arguments(ARG "" "" "TESTS;LINK;PCH" ${ARGN})
    set(program rope-splice-${label}-tests)
    add_executable(${program} support/test_program.cpp)
    target_link_libraries(${program} PRIVATE Qt6::Test rope_options ${ARG_LINK})
    target_compile_options(${program} PRIVATE -O0)
    # In one file only: what is compiled in another folder is the same otherwise, and ccache knows it again.
    set_source_files_properties(support/test_program.cpp PROPERTIES
        COMPILE_DEFINITIONS ROPE_SOURCE_DIR="${PROJECT_SOURCE_DIR}")
    if(ROPE_PCH)
        target_precompile_headers(${program} PRIVATE ${ARG_PCH})
    endif()
    foreach(name IN LISTS ARG_TESTS)
        target_sources(${program} PRIVATE ${label}/tst_${name}.cpp)
        rope_moc(${program} ${label}/tst_${name}.cpp tst_${name}.moc)
        add_test(NAME ${name} COMMAND ${program} ${name})
        set(home ${CMAKE_BINARY_DIR}/test-home/${name})
        set(labels ${label})
        file(STRINGS ${label}/tst_${name}.cpp rounds REGEX "ROPE_TEST_ROUNDS|roundsUnlessSaid" LIMIT_COUNT 1)
        if(rounds)
            list(APPEND labels random)  # takes as many cases as one wishes: ./dev soak
        endif()
        set_tests_properties(${name} PROPERTIES LABELS "${labels}" TIMEOUT 400
            ENVIRONMENT "${ROPE_TEST_ENVIRONMENT};HOME=${home};XDG_CONFIG_HOME=${home}/config;XDG_STATE_HOME=${home}/state;XDG_DATA_HOME=${home}/data;XDG_CACHE_HOME=${home}/cache")
    endforeach()
endfunction()

set(ROPE_TEST_ENVIRONMENT
    "QT_QPA_PLATFORM=offscreen" "LC_ALL=C.UTF-8" "GIT_CONFIG_GLOBAL=/dev/null" "GIT_CONFIG_NOSYSTEM=1"
    "ROPE_SPLICE_PROGRAM=${CMAKE_BINARY_DIR}/bin/rope-splice")
