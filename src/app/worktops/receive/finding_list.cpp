#include "app/worktops/receive/finding_list.h"

#include "app/widgets/theme.h"
#include "core/preflight/check_table.h"

#include <QPainter>
#include <QPainterPath>
#include <QSignalBlocker>
#include <QStyledItemDelegate>

namespace bichrom {

namespace {

enum Role
{
    GroupRole = Qt::UserRole, ///< index of the group; −1 for a heading
    SeverityRole,
    AcceptedRole,
    SolvedRole,
    CountRole
};

/// A filled diamond with a bar for an error, an open triangle for a warning, a ring for a note, a tick for
/// what was accepted. Amber asks for the artist; the rest is grey.
void paint_sign(QPainter &painter, const QPointF &at, Severity severity, bool accepted)
{
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(theme::text, 1.4));
    painter.setBrush(accepted || severity == Severity::Note ? QBrush(Qt::NoBrush) : QBrush(theme::amber));
    if (accepted) {
        painter.drawPolyline(QPolygonF({at + QPointF(-4, 0), at + QPointF(-1, 4), at + QPointF(5, -4)}));
    } else if (severity == Severity::Error) {
        painter.drawPolygon(
            QPolygonF({at + QPointF(0, -6), at + QPointF(6, 0), at + QPointF(0, 6), at + QPointF(-6, 0)}));
        painter.drawLine(at + QPointF(-2.5, 0), at + QPointF(2.5, 0));
    } else if (severity == Severity::Warning) {
        painter.setBrush(theme::amberField);
        painter.drawPolygon(QPolygonF({at + QPointF(0, -5), at + QPointF(5.5, 5), at + QPointF(-5.5, 5)}));
    } else {
        painter.drawEllipse(at, 4, 4);
    }
    painter.restore();
}

class Delegate final : public QStyledItemDelegate
{
public:
    using QStyledItemDelegate::QStyledItemDelegate;

    QSize sizeHint(const QStyleOptionViewItem &, const QModelIndex &index) const override
    {
        return {100, index.data(GroupRole).toInt() < 0 ? 22 : 38};
    }

    void paint(QPainter *painter, const QStyleOptionViewItem &option, const QModelIndex &index) const override
    {
        painter->save();
        const QRect row = option.rect;
        if (index.data(GroupRole).toInt() < 0) {
            painter->setFont(theme::font(11, QFont::DemiBold));
            painter->setPen(theme::quiet);
            painter->drawText(row.adjusted(6, 4, 0, 0), Qt::AlignVCenter, index.data().toString());
            painter->restore();
            return;
        }
        const bool chosen = option.state.testFlag(QStyle::State_Selected);
        if (chosen) {
            painter->fillRect(row, theme::field);
            painter->fillRect(QRect(row.x(), row.y(), 3, row.height()), theme::amber);
        }
        const bool solved = index.data(SolvedRole).toBool();
        const bool accepted = index.data(AcceptedRole).toBool() || solved;
        paint_sign(*painter, row.topLeft() + QPointF(15, 12),
                   static_cast<Severity>(index.data(SeverityRole).toInt()), accepted);
        const QRect words = row.adjusted(28, 3, -6, -3);
        painter->setPen(accepted ? theme::quiet : theme::text);
        QFont title = theme::font(12, chosen ? QFont::DemiBold : QFont::Medium);
        title.setStrikeOut(solved);
        painter->setFont(title);
        painter->drawText(
            words, Qt::AlignTop | Qt::AlignLeft,
            painter->fontMetrics().elidedText(index.data().toString(), Qt::ElideRight, words.width()));
        painter->setFont(theme::font(11));
        painter->setPen(theme::quiet);
        painter->drawText(words, Qt::AlignBottom | Qt::AlignLeft,
                          painter->fontMetrics().elidedText(index.data(CountRole).toString(), Qt::ElideRight,
                                                            words.width()));
        painter->restore();
    }
};

} // namespace

FindingList::FindingList(QWidget *parent) : QListWidget(parent)
{
    setItemDelegate(new Delegate(this));
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    setUniformItemSizes(false);
    setStyleSheet(QStringLiteral("QListWidget { background: %1; border: 1px solid %2; }")
                      .arg(theme::card.name(), theme::line.name()));
    connect(this, &QListWidget::currentRowChanged, this, [this] {
        if (currentGroup() >= 0) {
            Q_EMIT groupChosen(currentGroup());
        }
    });
}

void FindingList::setFindings(const std::vector<Finding> &findings, const std::vector<FindingGroup> &groups,
                              int pages_in_file)
{
    const QSignalBlocker quiet(this);
    const int before = currentGroup();
    clear();
    // What is open by its severity, then what the job has solved.
    struct Section
    {
        Severity severity;
        bool solved;
    };
    for (const Section section : {Section{Severity::Error, false}, Section{Severity::Warning, false},
                                  Section{Severity::Note, false}, Section{Severity::Note, true}}) {
        QListWidgetItem *heading = nullptr;
        int count = 0;
        for (std::size_t i = 0; i < groups.size(); ++i) {
            const FindingGroup &group = groups[i];
            const Finding &first = findings[static_cast<std::size_t>(group.findings.front())];
            if (group.solved != section.solved || (!section.solved && first.severity != section.severity)) {
                continue;
            }
            if (heading == nullptr) {
                heading = new QListWidgetItem(this);
                heading->setFlags(Qt::NoItemFlags);
                heading->setData(GroupRole, -1);
            }
            ++count;
            auto *item = new QListWidgetItem(theme::text_of(first.title), this);
            item->setData(GroupRole, static_cast<int>(i));
            item->setData(SeverityRole, static_cast<int>(first.severity));
            item->setData(AcceptedRole, group.accepted || group.muted);
            item->setData(SolvedRole, group.solved);
            item->setData(CountRole, countText(first, group, pages_in_file));
            item->setToolTip(group.solved
                                 ? tr("%1\nSolved: %2").arg(item->text(), theme::text_of(first.solved))
                                 : item->text());
        }
        if (heading != nullptr) {
            heading->setText(section.solved                          ? tr("Solved by the job: %1").arg(count)
                             : section.severity == Severity::Error   ? tr("Errors: %1").arg(count)
                             : section.severity == Severity::Warning ? tr("Warnings: %1").arg(count)
                                                                     : tr("Notes: %1").arg(count));
        }
    }
    setCurrentGroup(before);
}

QString FindingList::countText(const Finding &first, const FindingGroup &group, int pages_in_file)
{
    if (group.solved) {
        return theme::text_of(first.solved);
    }
    QString text =
        theme::text_of(group.muted ? first.places.front().measured : count_text(group, pages_in_file));
    const CheckInfo *check = find_check(first.check);
    if (check != nullptr && check->original) {
        text = tr("in the customer's file, %1").arg(text);
    }
    return group.accepted ? tr("%1, accepted").arg(text) : text;
}

int FindingList::currentGroup() const
{
    const QListWidgetItem *item = currentItem();
    return item == nullptr ? -1 : item->data(GroupRole).toInt();
}

void FindingList::setCurrentGroup(int group)
{
    const QSignalBlocker quiet(this);
    for (int row = 0; row < count(); ++row) {
        if (group >= 0 && item(row)->data(GroupRole).toInt() == group) {
            setCurrentRow(row);
            scrollToItem(item(row));
            return;
        }
    }
    setCurrentRow(-1);
}

} // namespace bichrom
