/// \file
/// What all reports begin and end with, and how they look.
/// Layer: core/report, private.
#pragma once

#include "core/artwork/artwork.h"
#include "core/report/html_pdf.h"

#include <filesystem>
#include <string>

namespace bichrom {

inline const std::string report_css =
    "h1 { font-size: 18pt; margin: 0 0 6pt 0; } h2 { font-size: 12pt; margin: 14pt 0 4pt 0; }"
    "p { margin: 2pt 0; } ul { margin: 2pt 0 4pt 0; } li { margin: 0; }"
    ".quiet { color: #565653; font-size: 8.5pt; }";

/// Title, file, fingerprint and date; leaves the body open.
inline std::string report_head(const std::string &title, const Artwork &artwork, const std::string &date)
{
    const std::string file = std::filesystem::path(artwork.name()).filename().string();
    return "<html><body><h1>" + html_of(title) + ": " + html_of(file) + "</h1><p class=\"quiet\">" +
           html_of(date) + ". SHA-256 of the file as it came: " + artwork.sha256() + "</p>";
}

/// How doubtful things were read; empty when nothing was.
inline std::string report_assumptions(const Artwork &artwork)
{
    if (artwork.assumptions().empty()) {
        return {};
    }
    std::string html = "<h2>How the file was read</h2><ul>";
    for (const std::string &assumption : artwork.assumptions()) {
        html += "<li>" + html_of(assumption) + "</li>";
    }
    return html + "</ul>";
}

} // namespace bichrom
