# The floors of docs/architecture.md as library targets. Nothing else may add a library.

add_library(clendo_warnings INTERFACE)
target_compile_options(clendo_warnings INTERFACE
  -Wall -Wextra -Wpedantic -Werror -Wconversion -Wshadow -Wnon-virtual-dtor -Wold-style-cast
  -Woverloaded-virtual
  -Wno-restrict  # gcc 12 sees overlaps in std::string that are none (GCC bug 105651)
  $<$<CONFIG:Release>:-Wno-stringop-overflow>)  # and at -O3 writes beyond a vector that is about to grow (GCC bug 105329)
if(CLENDO_SANITIZE)
  target_compile_options(clendo_warnings INTERFACE -fsanitize=${CLENDO_SANITIZE} -fno-sanitize-recover=all -fno-omit-frame-pointer)
  target_link_options(clendo_warnings INTERFACE -fsanitize=${CLENDO_SANITIZE})
endif()

# The only way to add to core/: no Qt, and only what stands in LINKS.
function(clendo_core_library name)
  cmake_parse_arguments(PARSE_ARGV 1 arg "" "FOLDER" "SOURCES;LINKS;PRIVATE_LINKS")
  if("${arg_LINKS};${arg_PRIVATE_LINKS}" MATCHES "Qt[0-9]*::")
    message(FATAL_ERROR "core/${name} must not link Qt: ${arg_LINKS} ${arg_PRIVATE_LINKS}")
  endif()
  if(NOT arg_SOURCES)
    add_library(clendo_${name} INTERFACE)
    target_include_directories(clendo_${name} INTERFACE ${PROJECT_SOURCE_DIR}/core)
    target_link_libraries(clendo_${name} INTERFACE ${arg_LINKS})
    return()
  endif()
  if(NOT arg_FOLDER)
    set(arg_FOLDER ${name})
  endif()
  list(TRANSFORM arg_SOURCES PREPEND ${arg_FOLDER}/)
  add_library(clendo_${name} STATIC ${arg_SOURCES})
  set_target_properties(clendo_${name} PROPERTIES POSITION_INDEPENDENT_CODE ON)  # some end up in the vision module
  target_include_directories(clendo_${name} PUBLIC ${PROJECT_SOURCE_DIR}/core)
  target_link_libraries(clendo_${name} PUBLIC ${arg_LINKS} PRIVATE clendo_warnings ${arg_PRIVATE_LINKS})
endfunction()

# A floor above the core, in its own folder of the same name.
function(clendo_library name)
  cmake_parse_arguments(PARSE_ARGV 1 arg "OBJECT" "" "SOURCES;LINKS;PRIVATE_LINKS")
  if(arg_OBJECT)
    add_library(clendo_${name} OBJECT ${arg_SOURCES})
  else()
    add_library(clendo_${name} STATIC ${arg_SOURCES})
  endif()
  target_include_directories(clendo_${name} PUBLIC ${PROJECT_SOURCE_DIR} ${PROJECT_SOURCE_DIR}/core)
  target_link_libraries(clendo_${name} PUBLIC ${arg_LINKS} PRIVATE clendo_warnings ${arg_PRIVATE_LINKS})
  set_target_properties(clendo_${name} PROPERTIES AUTOMOC ON)
endfunction()
