// What an empty window offers: a word to type, a start to take, a work to open, and what was worked on last.
#pragma once

#include <QWidget>

#include "app/window/background.h"
#include "work/work.h"

class QComboBox;
class QHBoxLayout;
class QLineEdit;
class QToolButton;

namespace app {

class StartPage : public QWidget {
    Q_OBJECT

public:
    explicit StartPage(QWidget* parent = nullptr);

    // What a word would stand on, among the sizes to choose from.
    void showSheet(const work::Work& work);
    // Files of works that were open before, newest first; their pictures are read in the background.
    void showRecent(const QStringList& paths);
    QLineEdit* word() const { return m_word; }

Q_SIGNALS:
    void typed(const QString& text);  // the first of a word
    void openWanted();
    void artworkWanted();
    void demoWanted();
    void workWanted(const QString& path);
    void sheetWanted(int preset);  // of sheetPresets()
    void startWanted(int start);   // of work::kStartList

protected:
    void paintEvent(QPaintEvent* event) override;
    void showEvent(QShowEvent* event) override;

private:
    QToolButton* pictureButton(const QString& id, const QString& words, const QString& says);

    QLineEdit* m_word;
    QComboBox* m_sheets;
    QHBoxLayout* m_recent;
    QWidget* m_recentBox;
    QStringList m_shown;
    Background m_background;
};

}  // namespace app
