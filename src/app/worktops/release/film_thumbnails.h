/// \file
/// Small pictures of films that were written.
/// Layer: app/worktops/release.
#pragma once

#include "core/output/output_set.h"

#include <QWidget>

namespace bichrom {

class FilmThumbnails : public QWidget
{
    Q_OBJECT

public:
    using QWidget::QWidget;
    void setFilms(const std::vector<WrittenPlate> &films);
    [[nodiscard]] int count() const { return static_cast<int>(m_films.size()); }
    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override;
    QSize sizeHint() const override { return {264, heightForWidth(264)}; }

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    struct Film
    {
        QString name;
        QImage picture;
    };
    std::vector<Film> m_films;
};

} // namespace bichrom
