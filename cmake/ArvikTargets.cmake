# What all targets of the project have in common.

include(GNUInstallDirs)

add_library(arvik_warnings INTERFACE)
# -Wrestrict gives false alarms on string concatenation in GCC 12 (GCC bug 105651).
target_compile_options(
  arvik_warnings
  INTERFACE -Wall -Wextra -Wpedantic -Wconversion -Wshadow
            # clang-tidy knows it, too, but takes a fifth of its time for it.
            $<$<CXX_COMPILER_ID:Clang>:-Wreserved-identifier>
            $<$<CXX_COMPILER_ID:GNU>:-Wno-restrict> $<$<BOOL:${ARVIK_STRICT}>:-Werror>
            # In a merged unit everything is in an included file.
            $<$<AND:$<CXX_COMPILER_ID:GNU>,$<BOOL:${CMAKE_UNITY_BUILD}>>:-Wno-subobject-linkage>)

# arvik_add_library(NAME SOURCE... [REQUIRES PC_MODULE...] [LIBRARIES NAME...] [HEADERS PC_MODULE...] [NEEDS
# ARVIK_LIBRARY...]): the library target arvik_NAME with the alias arvik::NAME, installed with its
# CMake and pkg-config files. REQUIRES are the pkg-config modules that it links privately, LIBRARIES
# the libraries that have none and a header of their name, HEADERS
# those that it needs to be built and nobody after that, NEEDS the libraries of the project that it is
# built on.
function(arvik_add_library name)
  cmake_parse_arguments(PARSE_ARGV 1 arg "" "" "REQUIRES;LIBRARIES;HEADERS;NEEDS")
  set(target arvik_${name})
  add_library(${target} ${arg_UNPARSED_ARGUMENTS})
  add_library(arvik::${name} ALIAS ${target})
  set_target_properties(${target} PROPERTIES
    EXPORT_NAME ${name} VERSION ${PROJECT_VERSION} SOVERSION ${PROJECT_VERSION_MAJOR}
    POSITION_INDEPENDENT_CODE ON CXX_VISIBILITY_PRESET hidden VISIBILITY_INLINES_HIDDEN ON
    # Nobody asks for it, and a compiler cache then serves static and shared libraries alike.
    DEFINE_SYMBOL "")
  target_compile_features(${target} PUBLIC cxx_std_20)
  target_include_directories(${target} PUBLIC $<BUILD_INTERFACE:${PROJECT_SOURCE_DIR}/include>
                                              $<INSTALL_INTERFACE:${CMAKE_INSTALL_INCLUDEDIR}>)
  target_link_libraries(${target} PRIVATE $<BUILD_INTERFACE:arvik_warnings>)
  foreach(module ${arg_REQUIRES} ${arg_HEADERS})
    string(REGEX REPLACE ">=.*" "" prefix ${module})
    string(MAKE_C_IDENTIFIER ${prefix} prefix)
    if(NOT TARGET PkgConfig::${prefix})
      find_package(PkgConfig REQUIRED)
      pkg_check_modules(${prefix} REQUIRED IMPORTED_TARGET GLOBAL ${module})
      set_property(GLOBAL PROPERTY arvik_module_${prefix} ${${prefix}_LIBRARIES})
    endif()
    if(module IN_LIST arg_HEADERS)
      target_link_libraries(${target} PRIVATE $<BUILD_INTERFACE:PkgConfig::${prefix}>)
    else()
      target_link_libraries(${target} PRIVATE PkgConfig::${prefix})
      get_property(libraries GLOBAL PROPERTY arvik_module_${prefix})
      set_property(GLOBAL APPEND PROPERTY arvik_${name}_private ${libraries})
    endif()
  endforeach()
  foreach(library ${arg_LIBRARIES})
    find_path(ARVIK_${library}_HEADER ${library}.h REQUIRED)
    find_library(ARVIK_${library}_LIBRARY ${library} REQUIRED)
    mark_as_advanced(ARVIK_${library}_HEADER ARVIK_${library}_LIBRARY)
    target_link_libraries(${target} PRIVATE ${library})
    set_property(GLOBAL APPEND PROPERTY arvik_${name}_private ${library})
  endforeach()
  foreach(need ${arg_NEEDS})
    target_link_libraries(${target} PUBLIC arvik::${need})
  endforeach()
  set_property(GLOBAL APPEND PROPERTY arvik_libraries ${name})
  set_property(GLOBAL PROPERTY arvik_${name}_requires ${arg_REQUIRES})
  set_property(GLOBAL PROPERTY arvik_${name}_needs ${arg_NEEDS})
endfunction()

# arvik_add_program(NAME SOURCE...): an executable.
function(arvik_add_program name)
  add_executable(${name} ${ARGN})
  target_compile_features(${name} PRIVATE cxx_std_20)
  target_link_libraries(${name} PRIVATE arvik_warnings)
endfunction()
