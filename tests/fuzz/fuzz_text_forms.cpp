// SPDX-License-Identifier: GPL-3.0-or-later
// Encodings: what is decoded gives the same bytes again, whatever the bytes.
#include "core/text/encoding.h"
#include "core/text/text_form.h"
#include "tests/fuzz/three_versions.h"

using namespace rope;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    const std::string_view bytes(reinterpret_cast<const char*>(data), size);
    const auto known = formOf(bytes);
    for (const TextForm& form : {known.value_or(TextForm{}), guessedForm(bytes)}) {
        if (const auto text = decodedText(bytes, form)) {
            fuzz::require(isUtf8(*text), "decoded text is UTF-8");
            fuzz::require(encodedText(*text, form) == bytes, "encoding again gives the bytes");
        } else {
            fuzz::require(!known || form != *known, "a form that was recognised can be decoded");
        }
    }
    return 0;
}
