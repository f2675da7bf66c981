/// \file
/// The inks found: how much of each, drawn and told.
/// Layer: app/worktops.
#pragma once

#include "app/services/session.h"

#include <QWidget>

#include <vector>

namespace bichrom {

/// A row an ink: swatch, name, kind, coverage in % of the trim and in cm², objects, and a bar of the share.
class InkTable : public QWidget
{
    Q_OBJECT

public:
    explicit InkTable(QWidget *parent = nullptr);

    struct Row
    {
        QString name;
        QString kind;
        QColor colour;
        double share = -1; ///< of the trim, 0 to 1; negative while it is measured
        double area_cm2 = 0;
        int objects = 0;
    };
    void setRows(std::vector<Row> rows);
    [[nodiscard]] const std::vector<Row> &rows() const { return m_rows; }
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override { return sizeHint(); }

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    std::vector<Row> m_rows;
};

} // namespace bichrom
