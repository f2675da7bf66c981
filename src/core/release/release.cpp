#include "core/release/release.h"

#include "core/artwork/fingerprint.h"
#include "core/base/atomic_file.h"
#include "core/base/file_name.h"
#include "core/base/hidden_folder.h"
#include "core/output/compose.h"
#include "core/output/damage_gate.h"
#include "core/report/job_ticket.h"
#include "core/report/proof.h"

#include <nlohmann/json.hpp>

#include <algorithm>

namespace bichrom {

namespace {

namespace fs = std::filesystem;
using json = nlohmann::ordered_json;

constexpr const char *job_name = "job.bichrom", *about_name = "release.json", *sums_name = "SHA256SUMS";

std::string folder_name(int number)
{
    std::string digits = std::to_string(number);
    return "release-" + std::string(3 - std::min<std::size_t>(3, digits.size()), '0') + digits;
}

/// The number behind "release-", or 0.
int number_of(const std::string &name)
{
    constexpr std::string_view begin = "release-";
    if (!name.starts_with(begin)) {
        return 0;
    }
    int number = 0;
    for (const char c : name.substr(begin.size(), 7)) {
        if (c < '0' || c > '9') {
            break;
        }
        number = number * 10 + (c - '0');
    }
    return number;
}

/// What tells whether two states of a job print alike.
std::string state_of(const OpenedJob &opened)
{
    Job job = opened.job;
    job.page = 1;
    const std::string text = job_to_json(job, *opened.artwork);
    return fingerprint_of({reinterpret_cast<const std::byte *>(text.data()), text.size()});
}

int highest_number(const fs::path &releases)
{
    int highest = 0;
    std::error_code fault;
    for (fs::directory_iterator entry(releases, fault), end; !fault && entry != end; entry.increment(fault)) {
        highest = std::max(highest, number_of(entry->path().filename().string()));
    }
    return highest;
}

/// The files under \p folder with their fingerprints, by name; the list of sums is left out.
Outcome<std::vector<std::pair<std::string, std::string>>> sums_of(const fs::path &folder)
{
    std::vector<std::pair<std::string, std::string>> files;
    std::error_code fault;
    for (fs::recursive_directory_iterator entry(folder, fault), end; !fault && entry != end;
         entry.increment(fault)) {
        if (!entry->is_regular_file() || entry->path().filename() == sums_name) {
            continue;
        }
        auto sum = fingerprint_of_file(entry->path());
        if (!sum) {
            return sum.error();
        }
        files.emplace_back(entry->path().lexically_relative(folder).generic_string(), std::move(*sum));
    }
    if (fault) {
        return Error{ErrorCode::CannotRead, "The folder cannot be listed.", folder.string(), {}};
    }
    std::sort(files.begin(), files.end());
    return files;
}

/// Progress of the parts of a release as one.
class Parts
{
public:
    Parts(const JobControl &control, std::int64_t count) : m_control(control), m_count(count) {}
    JobControl next()
    {
        constexpr std::int64_t fine = 1000;
        const std::int64_t before = m_begun++ * fine, all = m_count * fine;
        return m_control.with_report([this, before, all](std::int64_t done, std::int64_t total) {
            m_control.progress(before + (total > 0 ? done * fine / total : 0), all);
        });
    }

private:
    const JobControl &m_control;
    std::int64_t m_count, m_begun = 0;
};

json about(const OpenedJob &opened, const std::string &state, const ReleaseRequest &request,
           const Release &release)
{
    json stops = json::array();
    for (const GateStop &stop : release.stops) {
        stops.push_back(stop.what);
    }
    return {{"format", "bichrom release"},
            {"version", 1},
            {"number", release.number},
            {"date", request.date},
            {"job", opened.job.name},
            {"job_state", state},
            {"artwork",
             {{"name", fs::path(opened.artwork->name()).filename().string()},
              {"sha256", opened.artwork->sha256()}}},
            {"pages", request.pages},
            {"films", request.parts.films},
            {"plate_pdf", request.parts.plate_pdf},
            {"plates", request.parts.plates},
            {"accept_damage", request.accept_damage},
            {"passed", stops},
            {"reason", release.stops.empty() ? std::string() : request.pass_reason}};
}

Done write_documents(const OpenedJob &opened, const ReleaseRequest &request, const fs::path &folder,
                     Parts &parts)
{
    std::vector<Proof> proofs;
    ProofRequest wanted = usual_proof(ProofForm::Pdf, request.date);
    wanted.accept_damage = request.accept_damage;
    for (const int page : request.pages) {
        const JobControl proving = parts.next(), counting = parts.next();
        OpenedJob turned = opened;
        turned.job.page = page;
        auto proof = make_proof(turned, wanted, proving);
        if (!proof) {
            if (proof.error().code == ErrorCode::NothingToPrint) {
                continue; // a blank page among others
            }
            return proof.error();
        }
        proofs.push_back(std::move(*proof));
        if (!request.accept_damage.empty()) {
            accept_damage(turned.job, request.accept_damage);
        }
        const auto ticket = job_ticket(turned, counting);
        if (!ticket) {
            return ticket.error();
        }
        const std::string stem =
            request.pages.size() == 1 ? std::string("ticket") : "ticket-p" + std::to_string(page);
        for (const char *ending : {".json", ".pdf"}) {
            if (const Done done = write_ticket(folder / (stem + ending), *ticket, request.date); !done) {
                return done;
            }
        }
    }
    if (proofs.empty()) {
        return Error{ErrorCode::NothingToPrint, "The pages paint nothing.", opened.artwork->name(), {}};
    }
    const Done pdf = write_proof(folder / "proof.pdf", proofs);
    return pdf ? write_proof(folder / "proof.html", proofs) : pdf;
}

/// Everything but release.json and the sums.
Done write_parts(const OpenedJob &opened, const ReleaseRequest &request, const fs::path &folder,
                 Release &release, const JobControl &control)
{
    Parts parts(control, 3 + 2 * static_cast<std::int64_t>(request.pages.size()));
    const JobControl filming = parts.next();
    OutputRequest set;
    set.label.date = request.date;
    if (request.parts.films) {
        set.folder = folder / "films";
        auto films = write_pages(opened, request.pages, set, request.accept_damage, write_films, filming);
        if (!films) {
            return films.error();
        }
        release.films = std::move(*films);
    }
    const JobControl plating = parts.next();
    if (request.parts.plates) {
        set.folder = folder / "plates";
        if (const auto plates =
                write_pages(opened, request.pages, set, request.accept_damage, plate_writer(), plating);
            !plates) {
            return plates.error();
        }
    }
    const JobControl composing = parts.next();
    if (request.parts.plate_pdf) {
        ComposeRequest pdf;
        pdf.pages = request.pages;
        pdf.accept_damage = request.accept_damage;
        pdf.date = request.date;
        if (const auto made = compose_pdf(opened, folder / "plates.pdf", pdf, composing); !made) {
            return made.error();
        }
    }
    if (const Done done = write_documents(opened, request, folder, parts); !done) {
        return done;
    }
    return save_job(folder / job_name, opened.job, *opened.artwork);
}

/// Fills \p folder, which is new.
Done fill(const OpenedJob &opened, const std::string &state, const ReleaseRequest &request,
          const fs::path &folder, Release &release, const JobControl &control)
{
    if (const Done ready = prepare_folder(folder); !ready) {
        return ready;
    }
    if (const Done done = write_parts(opened, request, folder, release, control); !done) {
        return done;
    }
    const std::string text =
        about(opened, state, request, release).dump(2, ' ', false, json::error_handler_t::replace) + "\n";
    if (const Done done = write_file(folder / about_name, text); !done) {
        return done;
    }
    auto files = sums_of(folder);
    if (!files) {
        return files.error();
    }
    std::string sums; // as sha256sum reads them
    for (const auto &[name, sum] : *files) {
        sums += sum + "  " + name + "\n";
    }
    release.files = std::move(*files);
    return write_file(folder / sums_name, sums);
}

} // namespace

fs::path releases_of(const fs::path &folder, const std::string &job)
{
    return folder / safe_file_name(job);
}

Outcome<Release> release_job(const OpenedJob &opened, const ReleaseRequest &asked, const JobControl &control)
{
    ReleaseRequest request = asked;
    if (request.pages.empty()) {
        request.pages = {opened.job.page};
    }
    auto whole = turn_through(opened, request.pages, control);
    if (!whole) {
        return whole.error();
    }
    Release release;
    auto stops = check_gate(*whole, request.pages, request.devices, control);
    if (!stops) {
        return stops.error();
    }
    release.stops = std::move(*stops);
    if (auto stale = stale_outputs(last_release(request.folder, opened))) {
        release.stops.push_back(std::move(*stale));
    }
    if (!release.stops.empty() && request.pass_reason.empty()) {
        return release;
    }
    const fs::path releases = releases_of(request.folder, whole->job.name);
    if (const Done ready = prepare_folder(releases); !ready) {
        return ready.error();
    }
    release.number = highest_number(releases) + 1;
    release.folder = releases / folder_name(release.number);
    const HiddenFolder growing(releases / ("." + folder_name(release.number) + ".part"));
    if (const Done done = fill(*whole, state_of(opened), request, growing.path(), release, control); !done) {
        return done.error();
    }
    if (const Done moved = growing.move_to(release.folder); !moved) {
        return moved.error();
    }
    return release;
}

LastRelease last_release(const fs::path &folder, const OpenedJob &opened)
{
    LastRelease last;
    const fs::path releases = releases_of(folder, opened.job.name);
    for (int number = highest_number(releases); number > 0; --number) {
        const auto text = read_file(releases / folder_name(number) / about_name, 1 << 24);
        if (!text) {
            continue; // taken away
        }
        const auto *letters = reinterpret_cast<const char *>(text->data());
        const json then = json::parse(letters, letters + text->size(), nullptr, false);
        if (!then.is_object()) {
            continue;
        }
        const auto word = [&](const char *key) {
            const auto found = then.find(key);
            return found != then.end() && found->is_string() ? found->get<std::string>() : std::string();
        };
        last = {number, word("date"), word("job_state") == state_of(opened)};
        break;
    }
    return last;
}

std::optional<GateStop> stale_outputs(const LastRelease &last)
{
    if (last.number == 0 || last.same) {
        return std::nullopt;
    }
    return GateStop{"Release " + std::to_string(last.number) + " of " + last.date +
                        " is of an earlier state of the job: its films and files may still be printed from.",
                    "Take them away where they went to, and say what has changed."};
}

Outcome<Release> release_again(const fs::path &folder, const std::string &job, int number,
                               const JobControl &control)
{
    const fs::path releases = releases_of(folder, job), first = releases / folder_name(number);
    const auto text = read_file(first / about_name, 1 << 24);
    if (!text) {
        return Error{ErrorCode::FileMissing,
                     "There is no release " + std::to_string(number) + " of '" + job + "'.", first.string(),
                     "Look into the folder of its releases."};
    }
    const auto *letters = reinterpret_cast<const char *>(text->data());
    const json then = json::parse(letters, letters + text->size(), nullptr, false);
    ReleaseRequest request;
    request.folder = folder;
    Release release;
    release.number = number;
    std::string state;
    try {
        state = then.at("job_state").get<std::string>();
        request.pages = then.at("pages").get<PageList>();
        request.date = then.at("date").get<std::string>();
        request.accept_damage = then.at("accept_damage").get<std::string>();
        request.pass_reason = then.at("reason").get<std::string>();
        request.parts = {then.at("films").get<bool>(), then.at("plate_pdf").get<bool>(),
                         then.at("plates").get<bool>()};
        for (const json &stop : then.at("passed")) {
            release.stops.push_back({stop.get<std::string>(), {}});
        }
    } catch (const json::exception &) {
        return Error{ErrorCode::CannotRead, "The record of the release is damaged.",
                     (first / about_name).string(), "Release the job anew."};
    }
    const auto opened = open_job(first / job_name, {}, control);
    if (!opened) {
        return opened.error();
    }
    std::error_code fault;
    release.folder = first.string() + "-again";
    for (int more = 2; fs::exists(release.folder, fault); ++more) {
        release.folder = first.string() + "-again-" + std::to_string(more);
    }
    const HiddenFolder growing(releases / ("." + release.folder.filename().string() + ".part"));
    if (const Done done = fill(*opened, state, request, growing.path(), release, control); !done) {
        return done.error();
    }
    const auto before = sums_of(first);
    if (!before) {
        return before.error();
    }
    for (const auto &file : release.files) {
        if (std::find(before->begin(), before->end(), file) == before->end()) {
            release.differing.push_back(file.first);
        }
    }
    for (const auto &file : *before) {
        const bool there = std::any_of(release.files.begin(), release.files.end(),
                                       [&](const auto &one) { return one.first == file.first; });
        if (!there) {
            release.differing.push_back(file.first);
        }
    }
    if (const Done moved = growing.move_to(release.folder); !moved) {
        return moved.error();
    }
    return release;
}

} // namespace bichrom
