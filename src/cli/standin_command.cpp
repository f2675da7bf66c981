#include "cli/commands.h"
#include "cli/console.h"
#include "cli/report.h"
#include "cli/words.h"
#include "core/standin/devices.h"

#include <CLI/CLI.hpp>

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <thread>

namespace bichrom {

namespace {

class StandinCommand final : public Command
{
public:
    CLI::App *declare(CLI::App &app) override
    {
        CLI::App *sub = app.add_subcommand(
            "stand-in", "Be a simulated device: works off what waits in a folder; exit code 1 when a file is "
                        "refused or waits");
        sub->add_option("DEVICE", m_device, "recorder, press or cutter")->required();
        sub->add_option("--in", m_folder, "Its folder; made when missing")->required();
        sub->add_option("--set", m_settings, "SETTING=VALUE, as in device.json; may be given many times");
        sub->add_flag("--clear", m_clear, "Recorder: clear a jam");
        sub->add_flag("--watch", m_watch, "Go on until stopped");
        return sub;
    }

    int run() override
    {
        const auto kind = parse_device_kind(m_device);
        if (!kind) {
            return report_error(kind.error());
        }
        int worst = exit_done;
        for (bool first = true;; first = false) {
            auto device = open_device(*kind, m_folder); // anew: people may change its settings meanwhile
            if (!device) {
                return report_error(device.error());
            }
            if (first) {
                if (const Done done = change(*device); !done) {
                    return report_error(done.error());
                }
            }
            const auto events = run_device(*kind, *device, stoppable());
            if (!events) {
                return report_error(events.error());
            }
            for (const DeviceEvent &event : *events) {
                if (event.kind != DeviceEvent::Kind::Taken) {
                    worst = exit_findings;
                }
                const std::string line = event.file + ": " + to_string(event.kind) + ". " + event.words;
                if (line != m_said) { // a file that waits is told of once
                    say("%s\n", line.c_str());
                    m_said = line;
                }
            }
            std::fflush(stdout);
            if (!m_watch || stoppable().cancelled()) {
                return worst;
            }
            std::this_thread::sleep_for(std::chrono::seconds(1));
        }
    }

private:
    Done change(DeviceFolder &device) const
    {
        for (const std::string &text : m_settings) {
            const auto parts = halves_at_first(text, '=');
            if (const Done done = device.set(parts ? parts->first : text.substr(0, text.find('=')),
                                             parts ? parts->second : std::string());
                !done) {
                return done;
            }
        }
        if (m_clear && device.state().contains("jammed")) {
            device.state()["jammed"] = false;
        }
        return device.save();
    }

    std::string m_device, m_folder, m_said;
    std::vector<std::string> m_settings;
    bool m_clear = false, m_watch = false;
};

} // namespace

std::unique_ptr<Command> make_standin_command()
{
    return std::make_unique<StandinCommand>();
}

} // namespace bichrom
