/// \file
/// What the artist does with colours: sends them to plates, takes them back.
/// Layer: app/services.
#pragma once

#include "app/models/choice.h"
#include "app/services/ink_library.h"
#include "app/services/session.h"
#include "core/artwork/found_colours.h"
#include "core/job/routing.h"

#include <QObject>

#include <functional>
#include <map>
#include <optional>
#include <string>
#include <vector>

namespace bichrom {

/// Every function that changes something is one undoable step.
class Router : public QObject
{
    Q_OBJECT

public:
    Router(Session &session, Choice &choice, InkLibrary &library, QObject *parent = nullptr);

    /// The page's colours, alike ones together, the largest first.
    [[nodiscard]] const std::vector<ColourGroup> &groups() const;
    /// The group that \p colour, a number of the scene, belongs to; −1 when there is none.
    [[nodiscard]] int groupOf(int colour) const;
    [[nodiscard]] double tolerance() const
    {
        return m_tolerance;
    } ///< ΔE within which colours are taken together
    void setTolerance(double tolerance);
    [[nodiscard]] ColourMeasure measure() const { return m_measure; }
    void setMeasure(ColourMeasure measure);

    /// Colours are numbered as in the scene; the flat colours of pictures follow those.
    [[nodiscard]] int colourOfFlat(int flat) const;
    [[nodiscard]] int flatOf(int colour) const; ///< number of a flat colour; −1 for others
    /// The plate that a flat colour prints on; nothing when its picture is not taken apart, empty when it is
    /// background.
    [[nodiscard]] std::optional<std::string> flatInk(int flat) const;
    [[nodiscard]] QString nameOf(int colour) const;

    /// How much of a colour a plate gets: its own strength times \p tint, or \p tint.
    void setAmount(bool own_tint, double tint);
    [[nodiscard]] bool ownTint() const { return m_ownTint; }
    [[nodiscard]] double tint() const { return m_tint; }

    /// What reaches the plates of \p colour.
    [[nodiscard]] Reach reach(int colour) const;

    /// Sends \p colour, and all that its group holds, to the plate of \p ink, which is made when there is
    /// none.
    void send(int colour, const QString &ink);
    void end(int colour, RouteTo to);              ///< the same, to another end than a plate
    void release(const std::vector<int> &colours); ///< removes the routes that take them
    /// Solid to the job's white plate, which is made when there is none.
    void sendWhite(const std::vector<int> &colours);
    /// Objects of the page's scene, in a route for each artwork they are of. \p ink for RouteTo::Plates.
    void routeObjects(const std::vector<int> &objects, RouteTo to, const QString &ink = {});
    /// To the plate of \p ink, which is made when there is none, by an amount of their own, whatever
    /// setAmount() said.
    void sendObjects(const std::vector<int> &objects, const QString &ink, bool own_tint, double tint);

    /// Lets objects overprint or knock out, or as their file says again.
    void overprintObjects(const std::vector<int> &objects, OverprintWish wish);

    /// The same for what the artist has in hand: the objects chosen, else the colour and those chosen with
    /// it. Nothing without either, or without a plate where one is needed.
    void sendChosen();
    void endChosen(RouteTo to);
    void whitenChosen();
    void releaseChosen();
    /// What was decided for a layer of the first file; null when nothing was.
    [[nodiscard]] const Route *layerRoute(const QString &layer) const;
    /// Decides for a layer, in place of what was decided for it: with the strengths it has. \p ink for
    /// RouteTo::Plates.
    void routeLayer(const QString &layer, RouteTo to, const QString &ink = {});
    void releaseLayer(const QString &layer); ///< as in the file again
    void removeRoutes(std::vector<int> numbers);
    void moveRoute(int number, int by);
    void setRoutePages(int number, const PageList &pages); ///< that it holds for; empty = all

    /// A plate for \p ink; colour and kind come from the ink book when it knows the name, else from the name.
    /// \return what is wrong with the name; FileMissing while nothing is open
    Done addPlate(const QString &ink);
    /// A plate for each group of alike colours, and the routes to it.
    void platesFromColours();
    void removePlate(const QString &ink);

Q_SIGNALS:
    void changed(); ///< groups, or what reaches the plates

private:
    void regroup();
    void follow();
    [[nodiscard]] const Route *flatRoute(int object) const;
    void sendFlat(int flat, const std::string &ink, const QString &step);
    [[nodiscard]] std::vector<int> chosenColours() const; ///< that are colours of groups, and flat ones
    /// Does \p one to \p job for each of \p colours that are of a group, as one step; to flat ones by \p
    /// flat.
    void changeColours(Job job, const std::vector<int> &colours, const QString &step,
                       const std::function<Job(Job, int group)> &one,
                       const std::function<void(int flat)> &flat);
    [[nodiscard]] Route routeOfGroup(int group) const;
    [[nodiscard]] Job releasedGroup(Job job, int group) const;
    void takeColours(const std::vector<int> &colours, RouteTo to, const QString &ink, const QString &step);
    [[nodiscard]] QString wordsOfColours(const std::vector<int> &colours) const;
    [[nodiscard]] Outcome<Job> withPlate(const QString &ink) const;
    /// Routes, without an end, that take objects of the page's scene, by the artwork they are of.
    [[nodiscard]] std::map<int, Route> byArtwork(const std::vector<int> &objects) const;
    /// Routes of \p objects in \p job, one for each artwork; \p finish gives them their end.
    [[nodiscard]] Job withObjects(Job job, const std::vector<int> &objects,
                                  const std::function<void(Route &)> &finish) const;
    [[nodiscard]] static QString wordsOf(const std::vector<int> &objects); ///< "4 objects"
    [[nodiscard]] std::string whitePlate(Job &job) const; ///< its ink; made when there is none

    Session &m_session;
    Choice &m_choice;
    InkLibrary &m_library;
    mutable std::optional<std::vector<ColourGroup>> m_groups; ///< made when they are asked for
    std::shared_ptr<const PageContent> m_grouped;             ///< the page they are of
    double m_tolerance = 0;
    ColourMeasure m_measure = ColourMeasure::DeltaE;
    bool m_ownTint = false;
    double m_tint = 1;
};

} // namespace bichrom
