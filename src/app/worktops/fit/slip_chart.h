/// \file
/// What slips leave bare, a bar a pair of plates.
/// Layer: app/worktops/fit.
#pragma once

#include <QString>
#include <QWidget>

#include <vector>

namespace bichrom {

/// Two bars a row: as the job is, and without traps where that differs. A click chooses a row.
class SlipChart : public QWidget
{
    Q_OBJECT

public:
    struct Row
    {
        QString pair;              ///< "A off B"
        QString note;              ///< "stock, closed by 0.20 mm"
        double now = 0, plain = 0; ///< mm²
        double x = 0, y = 0;       ///< mm from the page's top left
    };

    explicit SlipChart(QWidget *parent = nullptr);
    void setRows(std::vector<Row> rows, bool trapped);
    [[nodiscard]] const std::vector<Row> &rows() const { return m_rows; }
    [[nodiscard]] QSize sizeHint() const override;

Q_SIGNALS:
    void chosen(int row);

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;

private:
    std::vector<Row> m_rows;
    bool m_trapped = false;
};

} // namespace bichrom
