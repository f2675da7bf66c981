#include "core/job/change_slip.h"

#include "core/colour/source_profile.h"

namespace bichrom {

const char *to_string(ChangeState state)
{
    static constexpr const char *names[] = {"ask customer", "agreed", "not needed"};
    return names[static_cast<std::size_t>(state)];
}

Outcome<ChangeState> parse_change_state(std::string_view name)
{
    for (const ChangeState state : all_change_states) {
        if (name == to_string(state)) {
            return state;
        }
    }
    return Error{ErrorCode::OutOfRange,
                 "'" + std::string(name) + "' is no state of a change.",
                 {},
                 "Use ask customer, agreed or not needed."};
}

std::string key_of(const Question &question)
{
    return "ask " + question.check + " " + std::to_string(question.page) + " " + question.subject;
}

std::vector<ChangeEntry> list_changes(const Job &job)
{
    std::vector<ChangeEntry> changes;
    const auto add = [&](const std::string &key, const std::string &what, const std::string &why) {
        const auto state = job.change_states.find(key);
        changes.push_back(
            {key, what, why, state == job.change_states.end() ? ChangeState::AskCustomer : state->second});
    };
    const Job usual;
    if (job.colours.untagged_rgb != nullptr) {
        const auto profile = SourceProfile::open(*job.colours.untagged_rgb, 3);
        add("untagged rgb",
            "RGB colours without a profile are read as " +
                (profile ? (*profile)->name() : "another profile") + ", not as sRGB.",
            "The file does not say what its RGB colours mean.");
    }
    if (job.colours.convert_cmyk) {
        add("convert cmyk",
            "CMYK colours with a profile are converted to the printing condition; their numbers "
            "change.",
            "They were made for another printing condition.");
    }
    if (job.colours.condition != nullptr) {
        const auto condition = ProcessProfile::open(*job.colours.condition);
        add("condition",
            "RGB and Lab colours are separated for " +
                (condition ? (*condition)->name() : std::string("another printing condition")) + ".",
            "The job is printed under that condition.");
    }
    if (!(job.colours.rendering == usual.colours.rendering)) {
        add("rendering",
            std::string("Colours that do not fit the printing condition are brought in by the ") +
                to_string(job.colours.rendering.intent) + " intent" +
                (job.colours.rendering.black_point ? ", with black point compensation." : "."),
            "The usual way did not suit this artwork.");
    }
    if (job.assumed_ppi != usual.assumed_ppi) {
        add("assumed ppi",
            "The picture, which does not say its size, is printed at " + format_number(job.assumed_ppi, 1) +
                " pixels per inch.",
            "The size was asked for, or fits the product.");
    }
    for (const Question &question : job.questions) {
        add(key_of(question), question.words,
            "Found on page " + std::to_string(question.page) + "; nothing is changed.");
    }
    return changes;
}

} // namespace bichrom
