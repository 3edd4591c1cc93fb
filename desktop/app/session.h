// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/app/session_tasks.h"

#include <QObject>
#include <QThreadPool>

#include <memory>
#include <stop_token>

namespace rope {
/// One open repository: what is known of it, the splice under way, and the work that runs beside the
/// interface. Lives on the interface thread; every answer arrives there as a signal.
class Session final : public QObject
{
    Q_OBJECT
public:
    explicit Session(QObject* parent);
    ~Session() override;

    void open(const QString& folder);
    /// Reads anew where the repository stands, without recovering anything.
    void refresh();
    void fetch();
    void cancel();
    [[nodiscard]] bool isFetching() const { return m_isFetching; }

    void requestForecast(const std::string& theirsRef);
    void startSplice(const std::string& theirsRef, std::shared_ptr<const SurveyForecast> survey);
    void abandonSplice();
    void bringBackAbandoned();
    void record(const QString& message);
    void setNewIdentity(const QString& name, const QString& email);
    void requestFileFacts(std::size_t file);
    void storeMessage(const QString& message);
    void storePlace(const std::string& station, const std::string& place);

    [[nodiscard]] const QString& folder() const { return m_folder; }
    [[nodiscard]] std::shared_ptr<const SurveyFacts> facts() const { return m_facts; }
    [[nodiscard]] Splice* splice() const { return m_splice.get(); }
    [[nodiscard]] bool isRecording() const { return m_isRecording; }

signals:
    void opened();
    void openFailed(const rope::Error& error);
    void factsChanged();
    void identityKnown(const std::optional<rope::Signature>& identity);
    void forecastReady(const std::string& ref,
                       std::shared_ptr<const rope::SurveyForecast> forecast);
    void forecastFailed(const std::string& ref, const rope::Error& error);
    /// A splice is under way; `entry` says where the person was, if it was begun earlier.
    void spliceStarted(const rope::JournalEntry& entry);
    void spliceEnded(bool wasAbandoned);
    void fileFactsReady(std::size_t file, const rope::FileFacts& facts);
    void progressed(const QString& text);
    void recorded(const rope::Recorded& recorded);
    void failed(const rope::Error& error);
    void noticed(const QString& text);

private:
    void onOpened(OpenedRepository opened);
    void report(const Error& error);
    void forecastNext();
    void resume(const JournalEntry& entry);
    void takeUp(std::unique_ptr<Splice> splice);
    [[nodiscard]] ProgressSink progressSink();
    [[nodiscard]] std::size_t carryDecisions(Splice& splice, const SplicePlan& plan);

    QString m_folder;
    std::string m_privateFolder;
    std::unique_ptr<Journal> m_journal;
    std::shared_ptr<const SurveyFacts> m_facts;
    std::shared_ptr<const SurveyForecast> m_survey;  ///< What the splice under way was made of.
    std::unique_ptr<Splice> m_splice;
    std::vector<std::string> m_forecastQueue;  ///< Branches yet to be forecast, next last.
    std::string m_abandonedId;
    std::optional<Signature> m_newIdentity;
    std::stop_source m_stop;
    std::stop_source m_fetchStop;
    int m_generation = 0;  ///< Of the facts: answers about earlier ones are dropped.
    bool m_isFetching = false;
    bool m_isForecasting = false;
    bool m_isRecording = false;
    QThreadPool m_pool;
};
}  // namespace rope
