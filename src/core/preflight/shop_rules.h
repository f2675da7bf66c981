/// \file
/// A saved set of limits and checks for one press or customer.
/// Layer: core/preflight. May use core/base. Files are described in docs/shop-rules.md.
#pragma once

#include "core/preflight/finding.h"

#include <filesystem>
#include <map>
#include <string>
#include <vector>

namespace bichrom {

/// What the shop prints with.
struct Press
{
    int units = 4;                ///< inks in one run
    Millimetres sheet_width{500}; ///< the largest area that can be imaged
    Millimetres sheet_height{700};
    Dpi resolution{1200};
    Lpi ruling{55};
    friend bool operator==(const Press &, const Press &) = default;
};

/// A fold across the finished sheet.
struct Fold
{
    bool upright = true; ///< from top to bottom, else from side to side
    Millimetres at;      ///< from the trim box's left or top edge
    friend bool operator==(const Fold &, const Fold &) = default;
};

/// How one check is set.
struct CheckSetting
{
    Severity severity = Severity::Off;
    std::map<std::string, double> limits; ///< by the names the check declares
    friend bool operator==(const CheckSetting &, const CheckSetting &) = default;
};

struct ShopRules
{
    std::string name;
    Press press;
    bool spot_only = false;        ///< process inks are not printed at all
    std::vector<std::string> inks; ///< that the shop stocks; empty = any
    std::vector<Fold> folds;
    std::vector<Rect> keep_out;                 ///< mm from the trim box's top left, y down
    std::map<std::string, CheckSetting> checks; ///< by name; one that is missing is off
    std::string source = "{}";                  ///< the JSON it was read from, whose unknown fields are kept

    [[nodiscard]] CheckSetting setting(const std::string &check) const;
    /// A limit as set, else as the check declares it, else 0.
    [[nodiscard]] double limit(const std::string &check, const std::string &name) const;
    friend bool operator==(const ShopRules &, const ShopRules &) = default;
};

/// The shipped sets: textile screen, clear-film screen, two-ink duplicator, digital press with
/// two specialty stations.
[[nodiscard]] const std::vector<ShopRules> &shipped_rules();

/// Rules as JSON and back. Fields that this version does not know are kept by reading and writing.
/// \return WrongFormat, NewerVersion, OutOfRange
[[nodiscard]] std::string rules_to_json(const ShopRules &rules);
[[nodiscard]] Outcome<ShopRules> rules_from_json(const std::string &text, const std::string &place);

[[nodiscard]] Outcome<ShopRules> read_rules(const std::filesystem::path &path);
[[nodiscard]] Done write_rules(const std::filesystem::path &path, const ShopRules &rules);

} // namespace bichrom
