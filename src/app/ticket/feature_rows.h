// The OpenType features of a face, each a switch with a sample in the face's own letters.
#pragma once

#include "app/ticket/section.h"
#include "work/typeset.h"

class QCheckBox;
class QGridLayout;

namespace app {

class FeatureRows : public QWidget {
    Q_OBJECT

public:
    explicit FeatureRows(const Context& context, QWidget* parent = nullptr);

    void refresh();
    // "Small capitals, no Ligatures"; "as the face is" where nothing was switched.
    QString summary() const;
    bool isEmpty() const { return m_features.empty(); }

private:
    void rebuild();
    void paintSamples();

    Context m_context;
    work::Cache m_cache;  // fonts that were opened
    std::shared_ptr<const outline::Font> m_font;
    std::string m_state, m_text;
    std::vector<outline::FontFeature> m_features;
    std::vector<QCheckBox*> m_checks;
    QGridLayout* m_grid;
};

}  // namespace app
