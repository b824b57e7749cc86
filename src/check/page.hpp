#pragma once

#include <string_view>

/// The files of src/check/page, as the build puts them into the library.
namespace arvik::checking {

extern const std::string_view page_html;
extern const std::string_view page_css;
extern const std::string_view page_js;

}  // namespace arvik::checking
