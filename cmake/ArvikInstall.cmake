# Installation: headers, libraries, a CMake package with one component a library, pkg-config files,
# schemas, documents, and, where it is built, the tool with its manual and completion. By component:
# runtime (shared libraries), dev, tool and doc, each of which becomes a Debian package.

include(CMakePackageConfigHelpers)

set(package_folder ${CMAKE_INSTALL_LIBDIR}/cmake/Arvik)
get_property(libraries GLOBAL PROPERTY arvik_libraries)
set(ARVIK_REQUIREMENTS)
# pkg-config files find the prefix from where they are, so that an installation may be moved.
file(RELATIVE_PATH PC_UP /prefix/${CMAKE_INSTALL_LIBDIR}/pkgconfig /prefix)
foreach(name ${libraries})
  install(TARGETS arvik_${name} EXPORT arvik_${name}
          LIBRARY COMPONENT runtime NAMELINK_COMPONENT dev ARCHIVE COMPONENT dev)
  install(EXPORT arvik_${name} FILE Arvik_${name}.cmake NAMESPACE arvik:: COMPONENT dev
          DESTINATION ${package_folder})
  get_property(requires GLOBAL PROPERTY arvik_${name}_requires)
  get_property(needs GLOBAL PROPERTY arvik_${name}_needs)
  get_target_property(type arvik_${name} TYPE)
  string(APPEND ARVIK_REQUIREMENTS "set(Arvik_${name}_needs ${needs})\n")
  if(type STREQUAL STATIC_LIBRARY)
    string(APPEND ARVIK_REQUIREMENTS "set(Arvik_${name}_requires ${requires})\n")
  endif()

  # pkg-config: what a library needs itself is private; who links it statically asks with --static.
  # The libraries themselves are named, not their modules: those would bring all that they need.
  set(PC_NAME ${name})
  list(TRANSFORM needs PREPEND "arvik-" OUTPUT_VARIABLE needed)
  list(JOIN needed ", " PC_REQUIRES)
  get_property(private GLOBAL PROPERTY arvik_${name}_private)
  list(REMOVE_DUPLICATES private)
  list(TRANSFORM private PREPEND "-l")
  list(JOIN private " " PC_PRIVATE)
  configure_file(${PROJECT_SOURCE_DIR}/cmake/arvik.pc.in arvik-${name}.pc @ONLY)
  install(FILES ${CMAKE_CURRENT_BINARY_DIR}/arvik-${name}.pc
          COMPONENT dev DESTINATION ${CMAKE_INSTALL_LIBDIR}/pkgconfig)
endforeach()

configure_package_config_file(${PROJECT_SOURCE_DIR}/cmake/ArvikConfig.cmake.in ArvikConfig.cmake
                              INSTALL_DESTINATION ${package_folder})
write_basic_package_version_file(ArvikConfigVersion.cmake COMPATIBILITY SameMinorVersion)
install(FILES ${CMAKE_CURRENT_BINARY_DIR}/ArvikConfig.cmake
              ${CMAKE_CURRENT_BINARY_DIR}/ArvikConfigVersion.cmake
        COMPONENT dev DESTINATION ${package_folder})

if(ARVIK_FFI_HEADER)
  install(FILES ${ARVIK_FFI_HEADER} COMPONENT dev DESTINATION ${CMAKE_INSTALL_INCLUDEDIR}/arvik)
endif()
install(DIRECTORY ${PROJECT_SOURCE_DIR}/include/arvik COMPONENT dev
        DESTINATION ${CMAKE_INSTALL_INCLUDEDIR})
install(DIRECTORY ${PROJECT_SOURCE_DIR}/schemas/ COMPONENT dev
        DESTINATION ${CMAKE_INSTALL_DATADIR}/arvik/schemas FILES_MATCHING PATTERN "*.json")
install(FILES ${PROJECT_SOURCE_DIR}/data/icu_filter.json COMPONENT dev
        DESTINATION ${CMAKE_INSTALL_DATADIR}/arvik)

# The documents with all that they link to, as in the project's tree.
set(doc_folder ${CMAKE_INSTALL_DATADIR}/doc/arvik-doc)
install(FILES README.md CHANGELOG.md CONTRIBUTING.md LICENSE COMPONENT doc DESTINATION ${doc_folder})
install(DIRECTORY docs examples demo schemas data COMPONENT doc DESTINATION ${doc_folder}
        PATTERN "Doxyfile" EXCLUDE)

if(ARVIK_BUILD_TOOL)
  install(TARGETS arvik_tool COMPONENT tool)
  install(FILES ${PROJECT_SOURCE_DIR}/tools/arvik/completion.bash
          COMPONENT tool DESTINATION ${CMAKE_INSTALL_DATADIR}/bash-completion/completions RENAME arvik)
  find_program(HELP2MAN help2man)
  find_program(GZIP gzip)
  if(HELP2MAN AND GZIP)
    set(manuals)
    foreach(command IN ITEMS "" reveal schedule layout frames chart mix play strings check)
      string(REGEX REPLACE "-$" "" page "arvik-${command}")
      add_custom_command(
        OUTPUT ${page}.1.gz DEPENDS arvik_tool
        COMMAND ${HELP2MAN} --no-info --locale=C.UTF-8 --version-string=${PROJECT_VERSION}
                "--name=timed reveal of dialogue text" --output=${page}.1
                "$<TARGET_FILE:arvik_tool> ${command}"
        COMMAND ${GZIP} -9nf ${page}.1
        VERBATIM)
      list(APPEND manuals ${CMAKE_CURRENT_BINARY_DIR}/${page}.1.gz)
    endforeach()
    add_custom_target(arvik_manuals ALL DEPENDS ${manuals})
    install(FILES ${manuals} COMPONENT tool DESTINATION ${CMAKE_INSTALL_MANDIR}/man1)
  endif()
endif()

# Debian packages, of a build with BUILD_SHARED_LIBS: the library, what it takes to build with it, the
# tool, and the documents. Each brings a copyright and a changelog, as Debian's policy asks.
set(debian_version ${PROJECT_VERSION})
set(debian_packages libarvik${PROJECT_VERSION_MAJOR} libarvik-dev arvik arvik-doc)
set(debian_components runtime dev tool doc)
find_program(GZIP gzip)
if(BUILD_SHARED_LIBS AND GZIP)
  file(CONFIGURE OUTPUT debian/changelog.Debian CONTENT "arvik (${debian_version}) unstable; urgency=medium

  * See CHANGELOG.md of arvik-doc.

 -- The Arvik authors <arvik@example.org>  Thu, 01 Jan 2026 00:00:00 +0000
")
  file(READ ${PROJECT_SOURCE_DIR}/LICENSE license)
  string(REGEX REPLACE "\n\n" "\n.\n" license "${license}")
  string(REGEX REPLACE "\n([^\n])" "\n \\1" license "${license}")
  file(CONFIGURE OUTPUT debian/copyright CONTENT "Format: https://www.debian.org/doc/packaging-manuals/copyright-format/1.0/
Upstream-Name: arvik

Files: *
Copyright: The Arvik authors
License: MIT

License: MIT
 @license@
" @ONLY)
  file(CONFIGURE OUTPUT debian/triggers CONTENT "activate-noawait ldconfig\n")
  set(CPACK_DEBIAN_RUNTIME_PACKAGE_CONTROL_EXTRA ${CMAKE_CURRENT_BINARY_DIR}/debian/triggers)
  add_custom_command(OUTPUT debian/changelog.gz DEPENDS ${CMAKE_CURRENT_BINARY_DIR}/debian/changelog.Debian
    COMMAND ${GZIP} -9nc debian/changelog.Debian > debian/changelog.gz VERBATIM)
  add_custom_target(arvik_debian ALL DEPENDS debian/changelog.gz)
  foreach(package component IN ZIP_LISTS debian_packages debian_components)
    install(FILES ${CMAKE_CURRENT_BINARY_DIR}/debian/copyright
            COMPONENT ${component} DESTINATION ${CMAKE_INSTALL_DATADIR}/doc/${package})
    install(FILES ${CMAKE_CURRENT_BINARY_DIR}/debian/changelog.gz
            COMPONENT ${component} DESTINATION ${CMAKE_INSTALL_DATADIR}/doc/${package})
  endforeach()
endif()

set(CPACK_PACKAGE_NAME arvik)
set(CPACK_PACKAGE_VENDOR "The Arvik authors")
set(CPACK_PACKAGE_CONTACT "The Arvik authors <arvik@example.org>")
set(CPACK_GENERATOR DEB)
set(CPACK_PACKAGING_INSTALL_PREFIX /usr)
set(CPACK_STRIP_FILES ON)
set(CPACK_DEB_COMPONENT_INSTALL ON)
set(CPACK_COMPONENTS_ALL ${debian_components})
if(NOT ARVIK_BUILD_TOOL)
  list(REMOVE_ITEM CPACK_COMPONENTS_ALL tool)
endif()
set(CPACK_DEBIAN_FILE_NAME DEB-DEFAULT)
set(CPACK_DEBIAN_PACKAGE_SHLIBDEPS ON)
set(CPACK_DEBIAN_PACKAGE_SHLIBDEPS_PRIVATE_DIRS ${PROJECT_BINARY_DIR})
set(CPACK_DEBIAN_PACKAGE_GENERATE_SHLIBS ON)
set(CPACK_DEBIAN_ENABLE_COMPONENT_DEPENDS ON)
set(about "Arvik times the character-by-character display of dialogue lines in games: it says, for every frame, how much of a line is shown, where every character stands, and what happens now.")
set(CPACK_DEBIAN_RUNTIME_PACKAGE_NAME libarvik${PROJECT_VERSION_MAJOR})
set(CPACK_DEBIAN_RUNTIME_PACKAGE_SECTION libs)
set(CPACK_COMPONENT_RUNTIME_DESCRIPTION "timed reveal of dialogue text - libraries\n${about} This package has the shared libraries.")
set(CPACK_DEBIAN_DEV_PACKAGE_NAME libarvik-dev)
set(CPACK_DEBIAN_DEV_PACKAGE_SECTION libdevel)
set(CPACK_DEBIAN_DEV_PACKAGE_DEPENDS "libexpected-dev, libarvik${PROJECT_VERSION_MAJOR} (= ${debian_version})")
set(CPACK_COMPONENT_DEV_DESCRIPTION "timed reveal of dialogue text - development files\n${about} This package has the headers, the CMake and pkg-config files, and the schemas.")
set(CPACK_DEBIAN_TOOL_PACKAGE_NAME arvik)
set(CPACK_DEBIAN_TOOL_PACKAGE_SECTION utils)
set(CPACK_DEBIAN_TOOL_PACKAGE_DEPENDS "libarvik${PROJECT_VERSION_MAJOR} (= ${debian_version})")
set(CPACK_COMPONENT_TOOL_DESCRIPTION "timed reveal of dialogue text - command-line tool\n${about} This package has the tool: it plays, times, lays out, draws and mixes lines.")
set(CPACK_DEBIAN_DOC_PACKAGE_NAME arvik-doc)
set(CPACK_DEBIAN_DOC_PACKAGE_SECTION doc)
set(CPACK_DEBIAN_DOC_PACKAGE_ARCHITECTURE all)
set(CPACK_COMPONENT_DOC_DESCRIPTION "timed reveal of dialogue text - documents and examples\n${about} This package has the guides, the examples and the demo's data.")
include(CPack)
