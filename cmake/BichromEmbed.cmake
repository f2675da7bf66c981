# bichrom_embed(TARGET SYMBOL FILE): puts FILE's bytes into TARGET as extern "C" arrays SYMBOL and SYMBOL_end,
# so that the core finds its own data without knowing where it is installed.
function(bichrom_embed target symbol file)
  set(source "${CMAKE_CURRENT_BINARY_DIR}/${symbol}.S")
  file(GENERATE OUTPUT "${source}" CONTENT
"    .section .rodata
    .balign 16
    .global ${symbol}
    .global ${symbol}_end
${symbol}:
    .incbin \"${file}\"
${symbol}_end:
    .byte 0
    .section .note.GNU-stack,\"\",@progbits
")
  target_sources(${target} PRIVATE "${source}")
  set_source_files_properties("${source}" PROPERTIES OBJECT_DEPENDS "${file}")
endfunction()
