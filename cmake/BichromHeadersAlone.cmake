# bichrom_headers_alone(TARGET LIBRARY FOLDER): TARGET compiles each header of FOLDER by itself, as LIBRARY is
# compiled, so that none leans on what was included before it. Not part of "all".
function(bichrom_headers_alone target library folder)
  # A glob, unlike elsewhere: a header that nobody lists is the one to be found.
  file(GLOB_RECURSE headers CONFIGURE_DEPENDS RELATIVE "${PROJECT_SOURCE_DIR}/src" "${folder}/*.h")
  set(sources)
  foreach(header IN LISTS headers)
    set(source "${CMAKE_CURRENT_BINARY_DIR}/${target}/${header}.cpp")
    file(CONFIGURE OUTPUT "${source}" CONTENT "#include \"@header@\"\n" @ONLY)
    list(APPEND sources "${source}")
  endforeach()
  add_library(${target} OBJECT EXCLUDE_FROM_ALL ${sources})
  set_target_properties(${target} PROPERTIES AUTOMOC OFF)
  target_compile_options(${target} PRIVATE -O0 -Wno-unused $<TARGET_PROPERTY:${library},COMPILE_OPTIONS>)
  target_compile_definitions(${target} PRIVATE $<TARGET_PROPERTY:${library},COMPILE_DEFINITIONS>
    POINTERHOLDER_TRANSITION=4)
  target_include_directories(${target} SYSTEM PRIVATE $<TARGET_PROPERTY:${library},INCLUDE_DIRECTORIES>)
  target_link_libraries(${target} PRIVATE ${library})
endfunction()
