# Walls between the folders of src/core: each is a library whose sources find the headers of what
# it USES, and no others, so that an arrow in the wrong direction does not compile. Headers are
# included as "folder/name.h"; the folder is reached through a link of its own below the build
# folder, and only targets that may look into it are given that link's place to search.

# core_folder(NAME [LEVEL n] [HOT source...] [USES folder...] [LIBRARIES library...] [TEST_USES target...])
# makes burnisher_NAME of NAME/*.cc, and burnisher_NAME_tests of NAME/*_test.cc. Tests may see what
# the folder sees, the builders of testing/, and what TEST_USES names: the stages before it, that
# hand it what it works on.
function(core_folder name)
  cmake_parse_arguments(arg "" "LEVEL" "HOT;USES;LIBRARIES;TEST_USES" ${ARGN})
  set(window ${CMAKE_BINARY_DIR}/walls/${name})
  file(MAKE_DIRECTORY ${window})
  file(CREATE_LINK ${CMAKE_SOURCE_DIR}/src/core/${name} ${window}/${name} SYMBOLIC)
  file(GLOB sources CONFIGURE_DEPENDS src/core/${name}/*.cc)
  set(tests ${sources})
  list(FILTER sources EXCLUDE REGEX "_test\\.cc$")
  list(FILTER tests INCLUDE REGEX "_test\\.cc$")
  set(uses ${arg_USES})
  list(TRANSFORM uses PREPEND burnisher_)
  add_library(burnisher_${name} STATIC ${sources})
  target_include_directories(burnisher_${name} PUBLIC ${window})
  target_link_libraries(burnisher_${name} PUBLIC ${uses} fmt::fmt PRIVATE ${arg_LIBRARIES})
  target_precompile_headers(burnisher_${name} REUSE_FROM burnisher_common)
  set_target_properties(burnisher_${name} PROPERTIES UNITY_BUILD ON UNITY_BUILD_MODE GROUP)
  # A type of an unnamed namespace looks as if it stood in a header when sources go together.
  target_compile_options(burnisher_${name} PRIVATE -O${arg_LEVEL} -Wno-subobject-linkage)
  foreach(source ${arg_HOT})
    set_source_files_properties(src/core/${name}/${source}.cc PROPERTIES COMPILE_OPTIONS -O3)
  endforeach()
  if(NOT tests)
    return()
  endif()
  list(TRANSFORM arg_TEST_USES PREPEND burnisher_)
  add_library(burnisher_${name}_tests OBJECT ${tests})
  target_link_libraries(burnisher_${name}_tests PRIVATE burnisher_${name} burnisher_testing
    ${arg_TEST_USES} GTest::gtest ${arg_LIBRARIES})
  target_compile_options(burnisher_${name}_tests PRIVATE -O0)
  target_compile_definitions(burnisher_${name}_tests PRIVATE
    BURNISHER_MODELS_FOLDER="${CMAKE_SOURCE_DIR}/models")
  set_target_properties(burnisher_${name}_tests PROPERTIES UNITY_BUILD ON UNITY_BUILD_MODE GROUP)
  target_precompile_headers(burnisher_${name}_tests REUSE_FROM burnisher_test_common)
  set_property(GLOBAL APPEND PROPERTY BURNISHER_TESTS burnisher_${name}_tests)
endfunction()
