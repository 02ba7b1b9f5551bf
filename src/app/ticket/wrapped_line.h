// Words over several lines, as high as they need. It tells no layout that its height follows its width: Qt's form layout writes beside its
// memory once such a row is hidden (QFormLayoutPrivate::setupHfwLayoutData, Qt 6.4).
#pragma once

#include <QLabel>

namespace app {

class WrappedLine : public QLabel {
public:
    WrappedLine() { setWordWrap(true); }
    bool hasHeightForWidth() const override { return false; }
    void showText(const QString& words)
    {
        setText(words);
        fit();
    }

protected:
    void resizeEvent(QResizeEvent* event) override
    {
        QLabel::resizeEvent(event);
        fit();
    }

private:
    void fit() { setMinimumHeight(std::max(0, heightForWidth(width()))); }
};

}  // namespace app
