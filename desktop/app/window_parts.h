// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

class QLabel;
class QPushButton;

namespace rope {
class CheckSession;
class CheckStation;
class CloneSession;
class CollisionSession;
class CourseBar;
class JoinQueue;
class KeyHints;
class LogbookPage;
class LogbookSession;
class Navigator;
class NoticeBar;
class Notices;
class PageStack;
class PlaceSession;
class PushStation;
class RecentPlaces;
class RecordSession;
class RecordStation;
class ResolveStation;
class SendSession;
class SpliceReader;
class SpliceSession;
class StartPage;
class SurveyStation;
class TrialSession;

/// What one window is made of, for those that join its parts: the sessions of what is under way, and the pages
/// that show it. All live as long as the window.
struct WindowParts
{
    PlaceSession* place = nullptr;
    SpliceSession* splice = nullptr;
    SpliceReader* reader = nullptr;
    RecordSession* recording = nullptr;
    CheckSession* checking = nullptr;
    TrialSession* trial = nullptr;
    SendSession* send = nullptr;
    LogbookSession* past = nullptr;
    CollisionSession* collisions = nullptr;
    JoinQueue* queue = nullptr;
    RecentPlaces* recent = nullptr;
    CloneSession* cloning = nullptr;

    CourseBar* course = nullptr;
    NoticeBar* noticeBar = nullptr;
    PageStack* pages = nullptr;
    KeyHints* hints = nullptr;
    QPushButton* fetch = nullptr;
    StartPage* start = nullptr;
    QLabel* opening = nullptr;  ///< In place of the start page, where it is known what to open.
    SurveyStation* survey = nullptr;
    ResolveStation* resolve = nullptr;
    CheckStation* check = nullptr;
    RecordStation* record = nullptr;
    PushStation* push = nullptr;
    LogbookPage* logbook = nullptr;

    Navigator* to = nullptr;  ///< Made after all of the above.
    Notices* notices =
        nullptr;  ///< Made last: a notice comes when the pages show what it speaks of.
};
}  // namespace rope
