#include "cli/cli.h"

int main(int argc, char **argv)
{
    return bichrom::run_cli(argc, argv);
}
