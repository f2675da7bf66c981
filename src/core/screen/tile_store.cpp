#include "core/screen/tile_store.h"

#include "core/base/atomic_file.h"

#include <algorithm>
#include <array>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <filesystem>
#include <fstream>

namespace bichrom {

namespace {

namespace fs = std::filesystem;

constexpr std::size_t most_files = 100; // a megabyte each, or less

/// FNV-1a, 64 bits (G. Fowler, L. Noll, K.-P. Vo; constants from memory).
std::uint64_t hash(const void *data, std::size_t size, std::uint64_t from = 14695981039346656037u)
{
    const auto *bytes = static_cast<const unsigned char *>(data);
    for (std::size_t i = 0; i < size; ++i) {
        from = (from ^ bytes[i]) * 1099511628211u;
    }
    return from;
}

/// Empty when there is no such folder and none can be made.
fs::path folder()
{
    const char *cache = std::getenv("XDG_CACHE_HOME");
    const char *home = std::getenv("HOME");
    fs::path path;
    if (cache != nullptr && fs::path(cache).is_absolute()) {
        path = cache;
    } else if (home != nullptr && fs::path(home).is_absolute()) {
        path = fs::path(home) / ".cache";
    } else {
        return {};
    }
    path = path / "bichrom" / "screens";
    std::error_code fault;
    fs::create_directories(path, fault);
    return fault ? fs::path() : path;
}

fs::path file_of(const fs::path &where, const std::string &key)
{
    std::array<char, 17> name{};
    std::snprintf(name.data(), name.size(), "%016llx",
                  static_cast<unsigned long long>(hash(key.data(), key.size())));
    return where / (std::string(name.data()) + ".tile");
}

/// What stands before the thresholds.
std::string head_of(const std::string &key, const RepeatingLattice &lattice)
{
    return "bichrom tile 1\n" + key + "\n" + std::to_string(lattice.width()) + " " +
           std::to_string(lattice.height()) + "\n";
}

void drop_oldest(const fs::path &where)
{
    std::error_code fault;
    std::vector<std::pair<fs::file_time_type, fs::path>> files;
    for (const auto &entry : fs::directory_iterator(where, fault)) {
        if (entry.path().extension() == ".tile") {
            files.emplace_back(entry.last_write_time(fault), entry.path());
        }
    }
    if (files.size() > most_files) {
        std::sort(files.begin(), files.end());
        for (std::size_t i = 0; i + most_files < files.size(); ++i) {
            fs::remove(files[i].second, fault);
        }
    }
}

} // namespace

std::optional<std::vector<std::uint16_t>> kept_thresholds(const std::string &key,
                                                          const RepeatingLattice &lattice)
{
    const fs::path where = folder();
    if (where.empty()) {
        return std::nullopt;
    }
    const fs::path path = file_of(where, key);
    std::ifstream file(path, std::ios::binary);
    const std::string head = head_of(key, lattice);
    std::string found(head.size(), '\0');
    std::vector<std::uint16_t> thresholds(static_cast<std::size_t>(lattice.width() * lattice.height()));
    const std::size_t size = thresholds.size() * sizeof thresholds[0];
    std::uint64_t sum = 0;
    if (!file.read(found.data(), static_cast<std::streamsize>(found.size())) || found != head ||
        !file.read(reinterpret_cast<char *>(&sum), sizeof sum) ||
        !file.read(reinterpret_cast<char *>(thresholds.data()), static_cast<std::streamsize>(size)) ||
        sum != hash(thresholds.data(), size)) {
        return std::nullopt;
    }
    std::error_code fault;
    fs::last_write_time(path, fs::file_time_type::clock::now(), fault); // it was of use
    return thresholds;
}

void keep_thresholds(const std::string &key, const RepeatingLattice &lattice,
                     const std::vector<std::uint16_t> &thresholds)
{
    const fs::path where = folder();
    if (where.empty()) {
        return;
    }
    AtomicFile part(file_of(where, key));
    {
        std::ofstream file(part.path(), std::ios::binary);
        const std::string head = head_of(key, lattice);
        const std::size_t size = thresholds.size() * sizeof thresholds[0];
        const std::uint64_t sum = hash(thresholds.data(), size);
        file.write(head.data(), static_cast<std::streamsize>(head.size()));
        file.write(reinterpret_cast<const char *>(&sum), sizeof sum);
        file.write(reinterpret_cast<const char *>(thresholds.data()), static_cast<std::streamsize>(size));
        if (!file) {
            return;
        }
    }
    if (part.commit()) {
        drop_oldest(where);
    }
}

} // namespace bichrom
