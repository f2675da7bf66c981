# Warnings, sanitizers and language rules shared by every target.
add_library(bichrom_options INTERFACE)
# -Wno-restrict: g++ 12 reports std::string + const char * falsely (GCC bug 105329).
target_compile_options(bichrom_options INTERFACE
  $<$<COMPILE_LANGUAGE:CXX>:-Wall;-Wextra;-Wpedantic;-Wconversion;-Wshadow;-Wold-style-cast;-Wnon-virtual-dtor;-Wno-restrict>)
if(BICHROM_WARNINGS_AS_ERRORS)
  target_compile_options(bichrom_options INTERFACE $<$<COMPILE_LANGUAGE:CXX>:-Werror>)
endif()
if(BICHROM_SANITIZERS)
  target_compile_options(bichrom_options INTERFACE -fsanitize=${BICHROM_SANITIZERS} -fno-sanitize-recover=all
    -fno-omit-frame-pointer # what is found fails the test
    -Wno-maybe-uninitialized) # g++ 12 sees ghosts in <regex> when it instruments
  target_link_options(bichrom_options INTERFACE -fsanitize=${BICHROM_SANITIZERS})
endif()

# Programs load the libraries that they call, not all that the core can call.
add_link_options(-Wl,--as-needed)

# What nearly every file includes, compiled once for each library that takes it. Headers must do without
# (`./run headers`), and so must the core: optimised as it is, g++ 12 then warns of its own library.
set(BICHROM_COMMON_HEADERS <algorithm> <array> <cmath> <cstdint> <cstring> <filesystem> <functional> <map> <memory>
  <optional> <set> <span> <string> <string_view> <utility> <vector>)
