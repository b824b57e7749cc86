# Installation: headers, libraries, a CMake package with one component a library, pkg-config files,
# schemas, and, where it is built, the tool with its manual and completion; and a Debian package of
# all of it.

include(CMakePackageConfigHelpers)

set(package_folder ${CMAKE_INSTALL_LIBDIR}/cmake/Arvik)
get_property(libraries GLOBAL PROPERTY arvik_libraries)
set(ARVIK_REQUIREMENTS)
# pkg-config files find the prefix from where they are, so that an installation may be moved.
file(RELATIVE_PATH PC_UP /prefix/${CMAKE_INSTALL_LIBDIR}/pkgconfig /prefix)
foreach(name ${libraries})
  install(TARGETS arvik_${name} EXPORT arvik_${name})
  install(EXPORT arvik_${name} FILE Arvik_${name}.cmake NAMESPACE arvik:: DESTINATION ${package_folder})
  get_property(requires GLOBAL PROPERTY arvik_${name}_requires)
  get_property(needs GLOBAL PROPERTY arvik_${name}_needs)
  get_target_property(type arvik_${name} TYPE)
  string(APPEND ARVIK_REQUIREMENTS "set(Arvik_${name}_needs ${needs})\n")
  if(type STREQUAL STATIC_LIBRARY)
    string(APPEND ARVIK_REQUIREMENTS "set(Arvik_${name}_requires ${requires})\n")
  endif()

  # pkg-config: a static library's own needs are needed by whoever links it.
  set(PC_NAME ${name})
  list(TRANSFORM needs PREPEND "arvik-" OUTPUT_VARIABLE needed)
  list(JOIN needed ", " PC_REQUIRES)
  list(JOIN requires ", " PC_PRIVATE)
  string(REPLACE ">=" " >= " PC_PRIVATE "${PC_PRIVATE}")
  if(type STREQUAL STATIC_LIBRARY)
    set(PC_REQUIRES "${PC_REQUIRES} ${PC_PRIVATE}")
    set(PC_PRIVATE)
  endif()
  configure_file(${PROJECT_SOURCE_DIR}/cmake/arvik.pc.in arvik-${name}.pc @ONLY)
  install(FILES ${CMAKE_CURRENT_BINARY_DIR}/arvik-${name}.pc
          DESTINATION ${CMAKE_INSTALL_LIBDIR}/pkgconfig)
endforeach()

configure_package_config_file(${PROJECT_SOURCE_DIR}/cmake/ArvikConfig.cmake.in ArvikConfig.cmake
                              INSTALL_DESTINATION ${package_folder})
write_basic_package_version_file(ArvikConfigVersion.cmake COMPATIBILITY SameMinorVersion)
install(FILES ${CMAKE_CURRENT_BINARY_DIR}/ArvikConfig.cmake
              ${CMAKE_CURRENT_BINARY_DIR}/ArvikConfigVersion.cmake DESTINATION ${package_folder})

install(DIRECTORY ${PROJECT_SOURCE_DIR}/include/arvik DESTINATION ${CMAKE_INSTALL_INCLUDEDIR})
install(DIRECTORY ${PROJECT_SOURCE_DIR}/schemas/ DESTINATION ${CMAKE_INSTALL_DATADIR}/arvik/schemas
        FILES_MATCHING PATTERN "*.json")
install(FILES ${PROJECT_SOURCE_DIR}/LICENSE ${PROJECT_SOURCE_DIR}/README.md
        DESTINATION ${CMAKE_INSTALL_DOCDIR})

if(ARVIK_BUILD_TOOL)
  install(TARGETS arvik_tool)
  install(FILES ${PROJECT_SOURCE_DIR}/tools/arvik/completion.bash
          DESTINATION ${CMAKE_INSTALL_DATADIR}/bash-completion/completions RENAME arvik)
  find_program(HELP2MAN help2man)
  if(HELP2MAN)
    set(manuals)
    foreach(command IN ITEMS "" reveal schedule layout frames chart mix play)
      string(REGEX REPLACE "-$" "" page "arvik-${command}")
      add_custom_command(
        OUTPUT ${page}.1 DEPENDS arvik_tool
        COMMAND ${HELP2MAN} --no-info --locale=C.UTF-8 --version-string=${PROJECT_VERSION}
                "--name=timed reveal of dialogue text" --output=${page}.1
                "$<TARGET_FILE:arvik_tool> ${command}"
        VERBATIM)
      list(APPEND manuals ${CMAKE_CURRENT_BINARY_DIR}/${page}.1)
    endforeach()
    add_custom_target(arvik_manuals ALL DEPENDS ${manuals})
    install(FILES ${manuals} DESTINATION ${CMAKE_INSTALL_MANDIR}/man1)
  endif()
endif()

set(CPACK_PACKAGE_NAME arvik)
set(CPACK_PACKAGE_VENDOR "The Arvik authors")
set(CPACK_PACKAGE_CONTACT "The Arvik authors <arvik@localhost>")
set(CPACK_GENERATOR DEB)
set(CPACK_PACKAGING_INSTALL_PREFIX /usr)
set(CPACK_STRIP_FILES ON)
set(CPACK_DEBIAN_FILE_NAME DEB-DEFAULT)
set(CPACK_DEBIAN_PACKAGE_SECTION libdevel)
set(CPACK_DEBIAN_PACKAGE_SHLIBDEPS ON)
set(CPACK_DEBIAN_PACKAGE_DEPENDS "libicu-dev, libexpected-dev")
include(CPack)
