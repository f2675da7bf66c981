/// \file
/// Small building blocks that worktops share.
/// Layer: app/widgets.
#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QVBoxLayout>
#include <QWidget>

#include <functional>

class QPushButton;

namespace bichrom {

/// A label in the interface's type.
[[nodiscard]] QLabel *make_label(const QString &text, int pixels = 12, QFont::Weight weight = QFont::Normal,
                                 bool quiet = false, QWidget *parent = nullptr);

/// A heading over a group of a worktop.
[[nodiscard]] QLabel *make_heading(const QString &text, QWidget *parent = nullptr);

/// A button of few words among others, named \p name for tests.
[[nodiscard]] QPushButton *make_small_button(const char *name, const QString &text, const QString &tip,
                                             QWidget *parent);

/// The style sheet of a line that tells what came of something; framed in amber when the artist must act.
[[nodiscard]] QString notice_style(bool needs_artist);

/// A thin line between groups.
[[nodiscard]] QWidget *make_rule(QWidget *parent = nullptr);

/// Fills \p worktop with a column that scrolls when it is too tall.
[[nodiscard]] QVBoxLayout *make_scrolling_column(QWidget *worktop);

/// Two columns of text: what, and its value at the right edge. Values can be selected.
class FactList : public QWidget
{
    Q_OBJECT

public:
    explicit FactList(QWidget *parent = nullptr);
    void clear();
    void add(const QString &what, const QString &value, const QString &tool_tip = {});

private:
    class QGridLayout *m_grid;
};

/// A field for a number with its unit. Keeps the last good value; what cannot be read is
/// marked, explained in the tool tip, and put back when the field is left.
class NumberField : public QLineEdit
{
    Q_OBJECT

public:
    /// \param read   gives the value, or an explanation why it is not accepted
    struct Reading
    {
        bool good = false;
        double value = 0;
        QString complaint;
    };
    using Read = std::function<Reading(const QString &)>;

    NumberField(QString unit, int decimals, Read read, QWidget *parent = nullptr);

    [[nodiscard]] double value() const { return m_value; }
    /// Shows a value without telling anybody.
    void setValue(double value);

    /// Accepts a number from \p low to \p high, with or without \p unit.
    static Read plain(const QString &unit, double low, double high);
    /// Accepts a length of \p low to \p high mm with any unit; a bare number is in mm.
    static Read length(double low, double high);

Q_SIGNALS:
    /// The artist entered another value.
    void valueEntered(double value);

protected:
    void focusOutEvent(QFocusEvent *event) override;

private:
    void finish();
    void mark(const QString &complaint);
    [[nodiscard]] QString shown(double value) const;
    QString m_unit, m_tip; ///< the tip while a complaint stands in its place
    int m_decimals;
    Read m_read;
    double m_value = 0;
};

/// A field named \p object for tests, \p width pixels wide.
[[nodiscard]] NumberField *make_number_field(const char *object, const QString &name, const QString &unit,
                                             int decimals, const NumberField::Read &read, int width,
                                             const QString &tip, QWidget *parent);

} // namespace bichrom
