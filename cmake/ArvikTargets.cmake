# What all targets of the project have in common.

add_library(arvik_warnings INTERFACE)
# -Wrestrict gives false alarms on string concatenation in GCC 12 (GCC bug 105651).
target_compile_options(
  arvik_warnings
  INTERFACE -Wall -Wextra -Wpedantic -Wconversion -Wshadow
            $<$<CXX_COMPILER_ID:GNU>:-Wno-restrict> $<$<BOOL:${ARVIK_STRICT}>:-Werror>)

# arvik_add_library(NAME SOURCE...): the library target arvik_NAME with the alias arvik::NAME.
function(arvik_add_library name)
  add_library(arvik_${name} ${ARGN})
  add_library(arvik::${name} ALIAS arvik_${name})
  set_target_properties(arvik_${name} PROPERTIES EXPORT_NAME ${name})
  target_compile_features(arvik_${name} PUBLIC cxx_std_20)
  target_include_directories(arvik_${name} PUBLIC $<BUILD_INTERFACE:${PROJECT_SOURCE_DIR}/include>)
  target_link_libraries(arvik_${name} PRIVATE $<BUILD_INTERFACE:arvik_warnings>)
endfunction()

# arvik_add_program(NAME SOURCE...): an executable.
function(arvik_add_program name)
  add_executable(${name} ${ARGN})
  target_compile_features(${name} PRIVATE cxx_std_20)
  target_link_libraries(${name} PRIVATE arvik_warnings)
endfunction()
