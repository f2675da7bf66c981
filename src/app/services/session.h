/// \file
/// The open job: loading, changing with undo, saving.
/// Layer: app/services.
#pragma once

#include "app/tasks/task_scope.h"
#include "core/artwork/scene.h"
#include "core/job/job_file.h"
#include "core/plates/plate_renderer.h"
#include "core/proof/original_view.h"

#include <QObject>
#include <QUndoStack>

#include <memory>
#include <vector>

namespace bichrom {

/// Everything computed once when artwork is opened. Immutable.
struct LoadedPage
{
    PageInfo info;
    PageBox box = PageBox::Media; ///< that the page was interpreted for
    Scene scene;
    std::shared_ptr<const PlateRenderer> renderer; ///< plates in the order of the inks found
    std::shared_ptr<const OriginalView> original;
};

class Session : public QObject
{
    Q_OBJECT

public:
    explicit Session(QObject *parent = nullptr);
    ~Session() override;

    [[nodiscard]] bool isOpen() const { return m_page != nullptr; }
    [[nodiscard]] bool isLoading() const { return m_loading; }
    [[nodiscard]] const Job &job() const { return m_opened.job; }
    [[nodiscard]] const OpenedJob &opened() const { return m_opened; }
    [[nodiscard]] const Artwork &artwork() const { return *m_opened.artwork; }
    [[nodiscard]] const std::shared_ptr<const LoadedPage> &page() const { return m_page; }
    [[nodiscard]] const QString &path() const { return m_path; } ///< of the job or artwork
    [[nodiscard]] QUndoStack &undoStack() { return m_undo; }
    [[nodiscard]] bool isModified() const { return !m_undo.isClean(); }

    /// Mean tone of \p ink, 0 to 1; negative while it is not known yet.
    [[nodiscard]] double coverage(const std::string &ink) const;

    /// Opens in the background; opened() or openFailed() follows. What is open stays
    /// until then. \p page 0 = the job's own, or the first.
    void open(const QString &path, int page = 0, const QString &password = {});
    void cancelOpening();

    /// Replaces the job, undoable. A change with the same \p merge_key as the last one
    /// becomes part of it.
    void change(const Job &job, const QString &text, const QString &merge_key = {});

    /// Saves as a .bichrom job.
    [[nodiscard]] Done save(const QString &path);

Q_SIGNALS:
    void loadingChanged();
    void pageChanged(); ///< another artwork, page or box is on the table
    void jobChanged();  ///< plates, screens or film settings changed
    void coverageChanged();
    void pathChanged();
    void openFailed(const bichrom::Error &error, const QString &path, int page);

private:
    friend class JobChange;
    struct Loaded;
    void take(Loaded loaded);
    void setJob(const Job &job);
    void measureCoverage();
    void loadBox();
    void mendBox(); ///< loads the job's box when an interrupted loading left another one

    OpenedJob m_opened;
    std::shared_ptr<const LoadedPage> m_page;
    std::vector<double> m_coverage;
    QString m_path;
    QUndoStack m_undo;
    bool m_loading = false;
    quint64 m_request = 0; ///< of the newest loading; results of older ones come too late and are dropped
    CancelSwitch m_opening;
    CancelSwitch m_measuring;
    TaskScope m_tasks; // last, so that it is destroyed first
};

} // namespace bichrom
