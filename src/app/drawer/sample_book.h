// The sample book at the window's right edge: materials that are ready, each on the designer's own first letter. It stays open while they
// are given to one letter after the other: a click gives one to what is chosen, a drag to what it is dropped on.
#pragma once

#include <QWidget>
#include <atomic>
#include <memory>

#include "app/ticket/section.h"
#include "app/window/background.h"
#include "files/material_sample.h"

class QCheckBox;
class QComboBox;
class QLineEdit;
class QListWidget;

namespace app {

// What a sample is dragged as: its id.
inline constexpr const char* kSampleMime = "application/x-open-glow-material";

class SampleBook : public QWidget {
    Q_OBJECT

public:
    explicit SampleBook(const Context& context, QWidget* parent = nullptr);

    // Gives the sample with this id to a piece, or a letter of it, or a part of either.
    void giveTo(const work::Address& at, const QString& sample);
    void giveToGround(bool wall, const QString& sample);

    QSize sizeHint() const override;  // as wide as three samples; one at least

Q_SIGNALS:
    void closeWanted();

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;
    void changeEvent(QEvent* event) override;

private:
    void fitText();
    void read();
    void fill();
    void renderSamples();
    void give(int row);
    void offerSurroundings(const work::Material& material);
    void keep();
    void forget();
    void markFavourite();
    bool isShown(const files::MaterialSample& sample) const;
    const files::MaterialSample* sampleOfId(const QString& id) const;
    void setMaterial(work::Material& material, const files::MaterialSample& sample) const;
    void edit(const QString& label, const files::MaterialSample& sample,
              const std::function<void(work::Work&, const files::MaterialSample&)>& change);

    Context m_context;
    QLineEdit* m_search;
    bool m_hasOffered = false;
    QComboBox *m_group, *m_part;
    QCheckBox* m_keepsColour;
    QListWidget* m_list = nullptr;
    std::vector<files::MaterialSample> m_samples;
    std::string m_shown;                                                                // what the samples are shown on
    std::shared_ptr<std::atomic<int>> m_round = std::make_shared<std::atomic<int>>(0);  // samples of an earlier round are not made
    Background m_background, m_reading;                                                 // of samples; and of what is given
};

}  // namespace app
