#include "core/artwork/intake/convert_picture.h"
#include "core/artwork/intake/glance.h"
#include "core/artwork/intake/intake_program.h"
#include "intake/try_pages.h"

#include <csignal>
#include <string_view>

int main(int argc, char **argv)
{
    std::signal(SIGXFSZ, SIG_IGN); // what would be too large is refused, and the rest goes on
    if (argc == 5 && std::string_view(argv[1]) == bichrom::probe_word) {
        return bichrom::try_pages(argv[2], argv[3], argv[4]);
    }
    if (argc == 6 && std::string_view(argv[1]) == bichrom::glance_word) {
        return bichrom::paint_glance(argv[2], argv[3], argv[4], argv[5]);
    }
    return bichrom::run_intake(argc, argv);
}
