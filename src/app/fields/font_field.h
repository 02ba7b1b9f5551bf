// The face of a lettering: shown and chosen in its own letters.
#pragma once

#include <QModelIndex>
#include <QWidget>
#include <optional>

#include "work/work.h"

class QLineEdit;
class QListView;
class QComboBox;
class QToolButton;

namespace app {

class FontField : public QWidget {
    Q_OBJECT

public:
    explicit FontField(QWidget* parent = nullptr);

    // Nothing reads "mixed". `sample` is the text that faces are shown with.
    void showValue(const std::optional<work::FontChoice>& value, const QString& sample);
    void setObjectNames(const QString& name);

Q_SIGNALS:
    void tried(const QString& family, const QString& style);  // while the list is open
    void chosen(const QString& family, const QString& style);
    void takenBack();  // the list closed without a choice: what was tried goes
    void fileChosen(const QString& path);

private:
    class Faces;
    class ShownFaces;
    void makePanel();
    void showFavourite();
    void openPanel();
    void take(const QModelIndex& index);
    void tryFace(const QModelIndex& index);
    bool eventFilter(QObject* object, QEvent* event) override;

    std::optional<work::FontChoice> m_value;
    QString m_sample;
    QToolButton* m_button;
    QWidget* m_panel = nullptr;
    QLineEdit* m_filter = nullptr;
    QListView* m_list = nullptr;
    QComboBox* m_kind = nullptr;
    QToolButton* m_favourite = nullptr;
    Faces* m_faces = nullptr;
    ShownFaces* m_shown = nullptr;
    bool m_triedAny = false;  // a face that is not chosen is in the picture
};

}  // namespace app
