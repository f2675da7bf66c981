#include "app/widgets/kept_sets_row.h"

#include "app/widgets/controls.h"
#include "app/widgets/theme.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPushButton>
#include <QSignalBlocker>

namespace bichrom {

KeptSetsRow::KeptSetsRow(const QString &kind, const QString &object,
                         std::function<std::string(const std::string &)> now, QWidget *parent)
    : QWidget(parent), m_sets(kind), m_now(std::move(now))
{
    auto *row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(4);
    m_names = new QComboBox(this);
    m_names->setObjectName(object + QStringLiteral("Kept"));
    m_names->setAccessibleName(tr("Kept sets"));
    m_names->setEditable(true);
    m_names->setInsertPolicy(QComboBox::NoInsert);
    m_names->lineEdit()->setPlaceholderText(tr("kept set, or a new name"));
    m_names->setToolTip(
        tr("Choosing a set uses it here. Typing a name and Keep puts what is set now under it."));
    row->addWidget(m_names, 1);
    m_keep =
        make_small_button("", tr("Keep"), tr("Keeps what is set now under the name, for other jobs"), this);
    m_keep->setObjectName(object + QStringLiteral("Keep"));
    row->addWidget(m_keep);
    m_forget = make_small_button("", QStringLiteral("×"), tr("Removes the set of that name"), this);
    m_forget->setObjectName(object + QStringLiteral("Forget"));
    m_forget->setAccessibleName(m_forget->toolTip());
    m_forget->setFixedWidth(24);
    row->addWidget(m_forget);
    connect(m_names, &QComboBox::activated, this, [this] {
        const QString name = m_names->currentText();
        if (const QString path = m_sets.path(name); !path.isEmpty()) {
            Q_EMIT chosen(name, path);
        }
        refreshButtons();
    });
    connect(m_names, &QComboBox::editTextChanged, this, &KeptSetsRow::refreshButtons);
    connect(m_names->lineEdit(), &QLineEdit::returnPressed, this, [this] {
        if (m_sets.path(m_names->currentText().trimmed())
                .isEmpty()) { // a name of the list was chosen, not given
            keep();
        }
    });
    connect(m_keep, &QPushButton::clicked, this, &KeptSetsRow::keep);
    connect(m_forget, &QPushButton::clicked, this, [this] {
        if (const Done done = m_sets.remove(m_names->currentText()); !done) {
            Q_EMIT failed(theme::text_of(done.error().message()));
        }
        refresh({});
    });
    refresh({});
}

void KeptSetsRow::keep()
{
    const QString name = m_names->currentText().trimmed();
    if (name.isEmpty()) {
        return;
    }
    if (const Done done = m_sets.keep(name, m_now(name.toStdString())); !done) {
        Q_EMIT failed(theme::text_of(done.error().message()));
    }
    refresh(name);
}

void KeptSetsRow::refresh(const QString &name)
{
    const QSignalBlocker quiet(m_names);
    m_names->clear();
    m_names->addItems(m_sets.names());
    m_names->setCurrentIndex(m_names->findText(name));
    if (m_names->currentIndex() < 0) {
        m_names->setEditText({});
    }
    refreshButtons();
}

void KeptSetsRow::refreshButtons()
{
    const QString name = m_names->currentText().trimmed();
    m_keep->setEnabled(!name.isEmpty());
    m_forget->setEnabled(m_names->findText(name) >= 0 && !name.isEmpty());
}

void KeptSetsRow::showEvent(QShowEvent *event)
{
    QWidget::showEvent(event);
    refresh(m_names->currentText()); // another window may have kept some
}

} // namespace bichrom
