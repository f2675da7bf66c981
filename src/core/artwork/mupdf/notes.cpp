#include "core/artwork/mupdf/notes.h"

#include "core/artwork/text_encoding.h"

#include <algorithm>
#include <utility>

namespace bichrom {

namespace {

thread_local NoteScope *of_thread = nullptr;

} // namespace

NoteScope::NoteScope(fz_context *ctx) : m_ctx(ctx), m_before(of_thread)
{
    fz_flush_warnings(ctx); // else a note equal to the last one would only be counted
    of_thread = this;
}

NoteScope::~NoteScope()
{
    fz_flush_warnings(m_ctx);
    of_thread = m_before;
}

NoteScope *NoteScope::current()
{
    return of_thread;
}

void NoteScope::add(std::string_view text)
{
    constexpr std::size_t most = 500; // a hostile file can produce millions
    const bool follows = text.starts_with("... repeated") || text.starts_with("Ignoring error during");
    if (follows || m_notes.size() >= most) {
        return;
    }
    std::string said = valid_utf8(text); // it quotes what stands in the file
    const auto same = [&](const Note &note) { return note.object == m_object && note.text == said; };
    if (std::none_of(m_notes.begin(), m_notes.end(), same)) {
        m_notes.push_back({m_object, m_area, m_of_picture, std::move(said)});
    }
}

void NoteScope::failed(fz_context *ctx)
{
    m_failed = true;
    const char *why = fz_caught_message(ctx);
    constexpr std::size_t most = 500;
    if (m_notes.size() < most) {
        // The error itself has been noted when it was thrown; this says what came of it.
        m_notes.push_back({m_object, m_area, m_of_picture,
                           "cannot be painted: " + valid_utf8(why != nullptr ? why : "no reason given")});
    }
}

std::vector<std::string> NoteScope::sort_into(DamageLog &log) const
{
    std::vector<std::string> rest;
    for (const Note &note : m_notes) {
        if (!is_damage(note.text)) {
            if (std::find(rest.begin(), rest.end(), note.text) == rest.end()) {
                rest.push_back(note.text);
            }
            continue;
        }
        Damage damage;
        const bool painting = note.text.starts_with("cannot be painted: ");
        damage.kind = painting ? DamageKind::Painting : kind_of_note(note.text, note.of_picture);
        damage.object = note.object;
        if (note.object < 0 && !fz_is_empty_rect(note.area)) {
            damage.area = {static_cast<double>(note.area.x0), static_cast<double>(note.area.y0),
                           static_cast<double>(note.area.x1) - static_cast<double>(note.area.x0),
                           static_cast<double>(note.area.y1) - static_cast<double>(note.area.y0)};
        }
        damage.note = note.text;
        log.add(std::move(damage));
    }
    return rest;
}

} // namespace bichrom
