#include "core/release/gate.h"

#include "core/job/change_slip.h"
#include "core/preflight/preflight.h"

#include <algorithm>
#include <set>

namespace bichrom {

namespace {

std::string quoted_list(const std::vector<std::string> &names)
{
    std::string text;
    for (const std::string &name : names) {
        text += (text.empty() ? "'" : ", '") + name + "'";
    }
    return text;
}

void stops_of_findings(const std::vector<Finding> &findings, const Job &job, std::set<std::string> &told,
                       std::vector<GateStop> &stops)
{
    for (const Finding &finding : findings) {
        if (finding.severity == Severity::Error && is_open(finding, job.accepted) &&
            told.insert(finding.check + "\n" + finding.subject + "\n" + std::to_string(finding.page))
                .second) {
            stops.push_back({"An error of the shop's rules on page " + std::to_string(finding.page) +
                                 " is open: " + finding.title + ".",
                             finding.remedy});
        }
    }
}

void stops_of_changes(const Job &job, std::vector<GateStop> &stops)
{
    int asked = 0;
    std::string first;
    for (const ChangeEntry &change : list_changes(job)) {
        if (change.state == ChangeState::AskCustomer) {
            first = first.empty() ? change.what : first;
            ++asked;
        }
    }
    if (asked > 0) {
        stops.push_back({(asked == 1 ? std::string("The customer has not answered one line")
                                     : "The customer has not answered " + std::to_string(asked) + " lines") +
                             " of the change slip, the first: " + first,
                         "Send the proof, and set the lines to agreed or not needed in the stage Receive."});
    }
}

void stops_of_devices(const Job &job, const std::vector<DeviceNeeds> &devices, std::vector<GateStop> &stops)
{
    for (const DeviceNeeds &device : devices) {
        std::vector<std::string> unknown;
        for (const Plate &plate : job.plates) {
            if (!device.inks.empty() &&
                std::find(device.inks.begin(), device.inks.end(), plate.ink) == device.inks.end()) {
                unknown.push_back(plate.ink);
            }
        }
        if (!unknown.empty()) {
            stops.push_back({device.name + " does not know " + quoted_list(unknown) +
                                 (unknown.size() == 1 ? ": it would print in its stand-in colour."
                                                      : ": they would print in their stand-in colours."),
                             "It knows " + quoted_list(device.inks) + "."});
        }
        if (!device.needed.empty() && job.find_plate(device.needed) < 0) {
            stops.push_back(
                {device.name + " looks for an ink called '" + device.needed + "' exactly, and no plate is.",
                 "Rename the plate; inks are '" + device.needed + "' to the letter."});
        }
    }
}

} // namespace

Outcome<std::vector<GateStop>> check_gate(const OpenedJob &opened, const PageList &pages,
                                          const std::vector<DeviceNeeds> &devices, const JobControl &control)
{
    std::vector<GateStop> stops;
    const auto rules = rules_of(opened.job);
    if (!rules) {
        return rules.error();
    }
    std::set<std::string> told;
    for (const int page : pages) {
        Job turned = opened.job;
        turned.page = page;
        auto findings = findings_of(*opened.artwork, turned, *rules, control);
        if (!findings) {
            return findings.error();
        }
        // What another page solves is known when that one is looked at.
        std::erase_if(*findings, [&](const Finding &finding) { return finding.page != page; });
        stops_of_findings(*findings, turned, told, stops);
    }
    stops_of_changes(opened.job, stops);
    stops_of_devices(opened.job, devices, stops);
    return stops;
}

} // namespace bichrom
