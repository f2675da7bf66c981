/// \file
/// Which of a page's objects somebody wants to see.
/// Layer: core/artwork.
#pragma once

#include "core/artwork/scene.h"

#include <optional>
#include <string>
#include <vector>

namespace bichrom {

/// Every condition that is set must hold.
struct ObjectFilter
{
    std::optional<ObjectKind> kind;
    std::string ink;                         ///< names_ink(); empty = any
    std::string colour;                      ///< describe() of the colour as written; empty = any
    std::optional<std::string> layer;        ///< innermost; "" = outside all layers
    std::optional<bool> overprint;           ///< whether it is set to overprint
    std::optional<Millimetres> smaller_than; ///< its longer side
    std::optional<Millimetres> larger_than;
    /// Each stands in what the object says, its fonts, its layer or its description; letters of ASCII in
    /// either case.
    std::vector<std::string> words;
};

/// Whether an object puts down \p ink: names it with more than nothing, or, for a process ink, is grey,
/// RGB or Lab that has to be separated first. Pictures and shadings count for all inks of their space.
[[nodiscard]] bool names_ink(const SceneObject &object, const std::string &ink);

[[nodiscard]] bool matches(const SceneObject &object, const ObjectFilter &filter);

/// Indices of the matching objects, in painting order.
[[nodiscard]] std::vector<int> find_objects(const Scene &scene, const ObjectFilter &filter);

} // namespace bichrom
