#include "core/artwork/intake/normalise.h"

int main(int argc, char **argv)
{
    return bichrom::run_intake(argc, argv);
}
