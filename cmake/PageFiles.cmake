# The files of the overview's page as a source of C++. Compilers take string literals of 64 KiB at
# least; longer files are cut into several.

function(arvik_add_page target)
  set(folder ${PROJECT_SOURCE_DIR}/src/check/page)
  set(out ${CMAKE_CURRENT_BINARY_DIR}/arvik_page.cpp)
  add_custom_command(OUTPUT ${out}
    COMMAND ${CMAKE_COMMAND} -DFOLDER=${folder} -DOUT=${out} -P ${PROJECT_SOURCE_DIR}/cmake/make_page.cmake
    DEPENDS ${folder}/overview.html ${folder}/overview.css ${folder}/overview.js
            ${PROJECT_SOURCE_DIR}/cmake/make_page.cmake
    VERBATIM)
  target_sources(${target} PRIVATE ${out})
  set_source_files_properties(${out} PROPERTIES SKIP_UNITY_BUILD_INCLUSION ON)
  target_include_directories(${target} PRIVATE ${PROJECT_SOURCE_DIR}/src/check)
endfunction()
