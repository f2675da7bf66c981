/// \file
/// Which inks print a photo, and how much of it is black.
/// Layer: app/worktops.
#pragma once

#include "core/job/job.h"

#include <QWidget>

#include <string>
#include <vector>

class QComboBox;
class QListWidget;

namespace bichrom {

class DotsChoice;
class InkControls;
class NumberField;

/// How much black a picture gets in process inks.
class BlackChoice : public QWidget
{
    Q_OBJECT

public:
    explicit BlackChoice(QWidget *parent = nullptr);
    void show(const BlackGeneration &black);

Q_SIGNALS:
    void chosen(const bichrom::BlackGeneration &black);

private:
    void take();
    QComboBox *m_amount;
    NumberField *m_limit;
};

/// The plates that a picture is separated into.
class InkChoice : public QWidget
{
    Q_OBJECT

public:
    explicit InkChoice(QWidget *parent = nullptr);
    /// \param route  of the picture; may be null
    void show(const std::vector<Plate> &plates, const Route *route);

Q_SIGNALS:
    void chosen(const std::vector<std::string> &inks);
    void controlled(const bichrom::RouteTarget &target);
    void dotsChosen(const bichrom::IndexDots &dots);

private:
    void take();
    void showControls();
    QListWidget *m_list;
    InkControls *m_controls;
    DotsChoice *m_dots;
    Route m_route;
    std::vector<Plate> m_plates;
};

} // namespace bichrom
