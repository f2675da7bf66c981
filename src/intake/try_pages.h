/// \file
/// Opens and paints a PDF's first pages, to see whether that can be survived.
#pragma once

namespace bichrom {

/// \param input          path of the PDF
/// \param password_file  path of a file that holds its password
/// \param patience       how many times the usual work a page may take, as a number
/// \return 0, or 1 when the files cannot be read; the process ends with probe_needs_memory when memory runs
///         out, and dies when the file kills its interpreter
int try_pages(const char *input, const char *password_file, const char *patience);

} // namespace bichrom
