// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "batch/format_reference.h"

#include "core/catalogue/description.h"
#include "core/colour/blend.h"
#include "core/catalogue/value_kind.h"
#include "core/recipe/fields.h"

namespace loom::batch {

namespace {

std::string code(std::string_view text) { return "`" + std::string(text) + "`"; }

std::string blends_table() {
    std::string text = "| blend | called | what it does |\n|---|---|---|\n";
    for (Blend each : blends_by_want()) {
        const BlendName& name = blend_name(each);
        text += "| " + code(name.id) + " | " + std::string(name.title) + " | " + std::string(name.help) + " |\n";
    }
    return text;
}

std::string values_of(const Parameter& p) {
    switch (p.kind) {
        case Kind::number:
        case Kind::count: return write_number(p.min) + " to " + write_number(p.max);
        case Kind::choice: {
            if (p.id == "blend") return "a blend, see below";
            std::string text;
            for (const Choice& choice : p.choices)
                text += (text.empty() ? "" : ", ") + (choice.id.empty() ? "nothing" : code(choice.id));
            return text;
        }
        default: return std::string(word(p.kind));
    }
}

template <class Owner>
std::string fields_table(const std::string& front, const Fields<Owner>& fields) {
    std::string text = "| address | values | left out | meaning |\n|---|---|---|---|\n";
    for (const Field<Owner>& field : fields) {
        const Parameter& p = field.parameter;
        text += "| " + code(front + std::string(p.id)) + " | " + values_of(p) + " | ";
        const auto* number = as_if<double>(p.fallback);
        text += (number ? write_number(*number) : show_value(p, p.fallback)) + " | " + std::string(p.help) + " |\n";
    }
    return text;
}

std::string kinds_table() {
    std::string text = "| kind | in the file | behind --set |\n|---|---|---|\n";
    for (Kind kind : all_kinds) {
        const WrittenForm form = kind_of(kind).form();
        text += "| " + std::string(word(kind)) + " | " + std::string(form.json) + " | " + std::string(form.text) + " |\n";
    }
    return text;
}

}  // namespace

std::string format_tables() {
    return kinds_table() + "\n" + fields_table("STRAND/STEP.", step_fields()) + "\n" + fields_table("STRAND.", strand_fields()) +
           "\n" + fields_table("STRAND.routes.MAP.", route_fields()) + "\n" + fields_table("", recipe_fields()) + "\n" +
           blends_table();
}

}  // namespace loom::batch
