/// \file
/// What a proof says, in words, for paper and for browsers.
/// Layer: core/report, private.
#pragma once

#include "core/report/proof.h"

#include <string>
#include <utility>
#include <vector>

namespace bichrom {

using WordRows = std::vector<std::vector<std::string>>;

[[nodiscard]] std::vector<std::pair<std::string, std::string>> proof_facts(const Proof &proof);
/// Heads of the ink list, and its rows.
[[nodiscard]] std::vector<std::string> ink_heads();
[[nodiscard]] WordRows ink_rows(const Proof &proof);
[[nodiscard]] std::vector<std::string> finding_heads();
[[nodiscard]] WordRows finding_rows(const Proof &proof);
[[nodiscard]] std::vector<std::string> change_heads();
[[nodiscard]] WordRows change_rows(const Proof &proof);
/// What the picture of the print cannot show.
[[nodiscard]] std::string proof_caution(const Proof &proof);

} // namespace bichrom
