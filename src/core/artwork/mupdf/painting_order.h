/// \file
/// Which object of which artwork is being painted.
/// Layer: core/artwork/mupdf, private to the core.
#pragma once

#include "core/artwork/layer.h"
#include "core/artwork/mupdf/notes.h"
#include "core/artwork/text_encoding.h"

#include <cstdlib>
#include <map>
#include <string>
#include <string_view>
#include <vector>

namespace bichrom {

/// Where an object stands.
struct ObjectPlace
{
    int index = 0;     ///< in order of painting, from 0
    int artwork = 0;   ///< 0 = the first file, else the id of a placed one
    int own_index = 0; ///< in order of painting within its artwork, from 0
};

/// Numbers the objects of a page. Every device that follows a page numbers them alike by this.
class PaintingOrder
{
public:
    void open_layer(const char *name)
    {
        constexpr std::string_view prefix = placed_layer_prefix;
        const std::string text = valid_utf8(name != nullptr ? name : "");
        Opened opened = m_open.empty() ? Opened{} : m_open.back();
        if (text.starts_with(note_layer_prefix)) {
            m_noted.emplace_back(std::atoi(text.c_str() + note_layer_prefix.size()), m_count);
        } else if (text.starts_with(prefix)) {
            opened = {{}, std::atoi(text.c_str() + prefix.size())}; // its layers are its own
        } else {
            opened.layer = text;
        }
        m_open.push_back(std::move(opened));
    }
    void close_layer()
    {
        if (!m_open.empty()) {
            m_open.pop_back();
        }
    }

    /// The innermost layer of the artwork being painted; empty outside.
    [[nodiscard]] const std::string &layer() const
    {
        static const std::string outside;
        return m_open.empty() ? outside : m_open.back().layer;
    }

    /// The next object's place.
    ObjectPlace next()
    {
        const int artwork = m_open.empty() ? 0 : m_open.back().artwork;
        return {m_count++, artwork, m_own[artwork]++};
    }

    /// Objects so far; the next one's index.
    [[nodiscard]] int count() const { return m_count; }

    /// The notes of the interpretation that were met, each with the index of the object after it.
    [[nodiscard]] const std::vector<std::pair<int, int>> &noted() const { return m_noted; }

    [[nodiscard]] int artwork() const { return m_open.empty() ? 0 : m_open.back().artwork; }

private:
    struct Opened
    {
        std::string layer;
        int artwork = 0;
    };
    std::vector<Opened> m_open; ///< outermost first
    int m_count = 0;
    std::vector<std::pair<int, int>> m_noted;
    std::map<int, int> m_own; ///< objects so far, by artwork
};

} // namespace bichrom
