/// \file
/// Found colours on the left, plates on the right, and what flows from one to the other.
/// Layer: app/worktops.
#pragma once

#include <QColor>
#include <QRectF>
#include <QString>
#include <QWidget>

#include <vector>

namespace bichrom {

/// A colour, or several that are alike, on the left.
struct FlowSource
{
    /// A stream to something on the right, as wide as its tone.
    struct Stream
    {
        int to = 0;        ///< index among the ends
        double amount = 1; ///< 0 to 1
    };
    QColor swatch;     ///< invalid for pictures
    QString name;      ///< a few words
    QString tip;       ///< all about it
    double area = 0;   ///< cm²; negative when not known
    bool lost = false; ///< it reaches no plate, and nobody wanted it so
    std::vector<Stream> streams;
    std::vector<QRectF> places{}; ///< of objects that a route takes, parts of the page's width and height:
                                  ///< drawn as a small page in place of the swatch
};

/// A plate, or another end, on the right.
struct FlowEnd
{
    QColor swatch; ///< invalid for ends that are no plates
    QString name;
    bool idle = false; ///< nothing flows to it
};

/// Choose with the mouse or the arrow keys, several with Ctrl and Shift; drag a colour onto a plate, or press
/// Return, to send it there.
class FlowPicture : public QWidget
{
    Q_OBJECT

public:
    explicit FlowPicture(QWidget *parent = nullptr);

    void setFlow(std::vector<FlowSource> sources, std::vector<FlowEnd> ends);
    void choose(int source, int end); ///< −1 = none; tells nobody
    /// Sources chosen besides that one; tells nobody.
    void chooseBesides(std::vector<int> sources);
    [[nodiscard]] const std::vector<int> &besides() const { return m_besides; }
    [[nodiscard]] const std::vector<FlowSource> &sources() const { return m_sources; }
    [[nodiscard]] const std::vector<FlowEnd> &ends() const { return m_ends; }
    /// Where a colour or an end stands, widget pixels.
    [[nodiscard]] QRect sourceRect(int index) const;
    [[nodiscard]] QRect endRect(int index) const;

    QSize sizeHint() const override;
    QSize minimumSizeHint() const override { return sizeHint(); }

Q_SIGNALS:
    void sourceChosen(int index);
    void besidesChanged();
    void sourceHovered(int index); ///< −1 = none
    void endChosen(int index);
    void sent(int source, int end);
    void released(int source); ///< its routes shall go
    void menuWanted(int source, QPoint global);

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void contextMenuEvent(QContextMenuEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void leaveEvent(QEvent *event) override;
    bool event(QEvent *event) override;

private:
    [[nodiscard]] int sourceAt(QPoint point) const;
    [[nodiscard]] int endAt(QPoint point) const;
    void paintStreams(QPainter &painter, const QRect &exposed) const;
    void describe();
    void extendTo(int source, Qt::KeyboardModifiers keys);
    [[nodiscard]] bool isChosen(int source) const;

    std::vector<FlowSource> m_sources;
    std::vector<FlowEnd> m_ends;
    int m_source = -1;
    std::vector<int> m_besides;
    int m_hovered = -1;
    int m_end = -1;
    int m_dragged = -1; ///< the colour that is being dragged
    QPoint m_pointer;
};

} // namespace bichrom
