/// \file
/// What MuPDF complains about, tied to the object it was busy with.
/// Layer: core/artwork/mupdf, private to the core.
#pragma once

#include "core/artwork/damage.h"
#include "core/artwork/mupdf/mupdf.h"

#include <string>
#include <string_view>
#include <vector>

namespace bichrom {

/// Marks, in a recorded page, where something was complained about while the page was interpreted: a layer of
/// this name and the note's number, opened and closed again.
inline constexpr std::string_view note_layer_prefix = "bichrom:note:";

/// While it lives, receives what MuPDF says on the thread that made it, in place of the runtime's common
/// list. Made outside of code that MuPDF's errors may jump out of.
class NoteScope
{
public:
    /// One thing said.
    struct Note
    {
        int object = -1;         ///< that was being worked on
        fz_rect area{};          ///< where it paints, device space; empty when not known
        bool of_picture = false; ///< said while a picture was decoded
        std::string text;
    };

    explicit NoteScope(fz_context *ctx);
    ~NoteScope();
    NoteScope(const NoteScope &) = delete;
    NoteScope &operator=(const NoteScope &) = delete;

    /// The scope of the calling thread, or null.
    [[nodiscard]] static NoteScope *current();

    /// What is said from now on is about \p object.
    void about(int object) { m_object = object; }
    void within(fz_rect area) { m_area = area; }
    void decoding(bool picture) { m_of_picture = picture; }
    void add(std::string_view text);
    /// An object failed: what was said last is damage even if it sounds harmless.
    void failed(fz_context *ctx);

    /// The number of a note that no mark stands for yet, once; −1 when there is none.
    [[nodiscard]] int next_unmarked()
    {
        return m_marked < m_notes.size() ? static_cast<int>(m_marked++) : -1;
    }

    /// Begins anew.
    void forget()
    {
        m_notes.clear();
        m_marked = 0;
    }

    [[nodiscard]] std::vector<Note> &notes() { return m_notes; }
    [[nodiscard]] const std::vector<Note> &notes() const { return m_notes; }
    [[nodiscard]] bool any_failed() const { return m_failed; }

    /// Puts what is damage into \p log, and returns the rest, without repetitions.
    std::vector<std::string> sort_into(DamageLog &log) const;

private:
    fz_context *m_ctx;
    NoteScope *m_before;
    int m_object = -1;
    fz_rect m_area = fz_empty_rect;
    bool m_of_picture = false;
    bool m_failed = false;
    std::size_t m_marked = 0;
    std::vector<Note> m_notes;
};

/// Wraps a device's painting function: an error of one object is noted and the rest goes on, where MuPDF
/// would switch the whole device off. \p Paint must leave clips and groups balanced when it throws.
template <auto Paint> struct Tolerant;
template <typename... Args, void (*Paint)(fz_context *, fz_device *, Args...)> struct Tolerant<Paint>
{
    static void call(fz_context *ctx, fz_device *device, Args... args)
    {
        fz_try(ctx)
        {
            Paint(ctx, device, args...);
        }
        fz_catch(ctx)
        {
            fz_rethrow_if(ctx, FZ_ERROR_ABORT);
            if (NoteScope *scope = NoteScope::current()) {
                scope->failed(ctx);
            }
        }
    }
};

} // namespace bichrom
