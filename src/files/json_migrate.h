// Works of earlier formats, brought to the present one.
#pragma once

#include <nlohmann/json.hpp>

namespace files::json {

// Changes the JSON of a work of an earlier version of the format in place. What does not fit is left as it is, for the reader to say.
void migrate(nlohmann::json& work, int version);

// The pointer into the JSON as it is now for one of an earlier version, which serve as short forms: /sheet, /view and /final are those
// of the sheet that is shown, /pieces/ID/lettering is a piece's source.
std::string presentPointer(const nlohmann::json& work, const std::string& pointer);

}  // namespace files::json
