#include "app/services/recovery.h"

#include "core/base/atomic_file.h"

#include <QCoreApplication>
#include <QDir>
#include <QFile>
#include <QJsonDocument>
#include <QJsonObject>
#include <QUuid>

namespace bichrom {

namespace {

const QString job_ending = QStringLiteral(".bichrom");
const QString note_ending = QStringLiteral(".json"); // beside it: where the work came from
const QString lock_ending = QStringLiteral(".lock");

QString note_of(const QString &file)
{
    return file + note_ending;
}

void remove_files(const QString &file)
{
    QFile::remove(file);
    QFile::remove(note_of(file));
}

} // namespace

Recovery::Recovery(Session &session, QString folder, QObject *parent)
    : QObject(parent), m_session(session), m_folder(std::move(folder)),
      m_file(m_folder + QLatin1Char('/') + QUuid::createUuid().toString(QUuid::WithoutBraces) + job_ending)
{
    m_timer.setSingleShot(true);
    connect(&m_timer, &QTimer::timeout, this, &Recovery::keep);
    connect(&m_session, &Session::jobChanged, this, &Recovery::schedule);
    connect(&m_session.undoStack(), &QUndoStack::cleanChanged, this, [this](bool clean) {
        if (clean) {
            forget();
        } else {
            schedule();
        }
    });
    connect(&m_session, &Session::artworkChanged, this, [this] {
        forget();
        schedule(); // recovered work is unsaved from the start
    });
}

Recovery::~Recovery()
{
    m_session.disconnect(this);
    m_session.undoStack().disconnect(this);
    forget();
}

void Recovery::schedule()
{
    if (!m_session.isOpen() || !m_session.isModified()) {
        return;
    }
    if (m_writing) {
        m_again = true;
    } else if (!m_timer.isActive()) {
        m_timer.start(m_delay); // not later than this after the first change
    }
}

void Recovery::forget()
{
    m_timer.stop();
    m_again = false;
    ++m_generation;
    if (m_kept) {
        remove_files(m_file);
        m_kept = false;
    }
    m_lock.reset();
}

void Recovery::keep()
{
    if (!m_session.isOpen() || !m_session.isModified()) {
        return;
    }
    if (!m_lock) {
        QDir().mkpath(m_folder);
        m_lock = std::make_unique<QLockFile>(m_file + lock_ending);
        m_lock->setStaleLockTime(0); // held for as long as the program lives
        (void)m_lock->tryLock();
    }
    m_writing = true;
    const QByteArray note = QJsonDocument(QJsonObject{{QStringLiteral("origin"), m_session.path()}}).toJson();
    m_tasks.start(
        [opened = m_session.opened(), file = m_file.toStdString(), note = note.toStdString(),
         note_file = note_of(m_file).toStdString()](const JobControl &) -> Done {
            if (Done written = write_file(note_file, note); !written) {
                return written;
            }
            return save_job(file, opened.job, *opened.artwork);
        },
        [this, generation = m_generation](const Done &done) {
            m_writing = false;
            if (generation != m_generation) {
                remove_files(m_file); // saved or left meanwhile
                schedule();
                return;
            }
            if (done) {
                m_kept = true;
                m_complained = false;
                Q_EMIT kept();
            } else if (!std::exchange(m_complained, true)) {
                Q_EMIT failed(done.error());
            }
            if (std::exchange(m_again, false)) {
                schedule();
            }
        });
}

std::vector<Recovery::Leftover> Recovery::leftovers() const
{
    std::vector<Leftover> found;
    const QDir folder(m_folder);
    for (const QFileInfo &file :
         folder.entryInfoList({QLatin1Char('*') + job_ending}, QDir::Files, QDir::Time)) {
        QLockFile lock(file.filePath() + lock_ending);
        lock.setStaleLockTime(0);
        if (!lock.tryLock()) {
            continue; // of a program that is still running
        }
        QFile note(note_of(file.filePath()));
        const QString origin =
            note.open(QIODevice::ReadOnly)
                ? QJsonDocument::fromJson(note.readAll()).object()[QStringLiteral("origin")].toString()
                : QString();
        found.push_back({file.filePath(), origin, file.lastModified()});
    }
    return found;
}

void Recovery::drop(const Leftover &leftover)
{
    remove_files(leftover.file);
    QFile::remove(leftover.file + lock_ending);
}

} // namespace bichrom
