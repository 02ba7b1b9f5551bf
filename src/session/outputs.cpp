#include "session/outputs.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "work/properties.h"

namespace session {

std::string addOutput(work::Work& work)
{
    const std::string id = work.newId("o");
    work::Sheet& sheet = work.shownSheet();
    const work::Output like = work.output();
    const auto at = std::ranges::find(sheet.outputs.order, sheet.outputId());
    sheet.outputs.items[id] = like;
    sheet.outputs.order.insert(at + 1, id);
    sheet.shownOutput = id;
    return id;
}

void removeOutput(work::Work& work)
{
    work::Sheet& sheet = work.shownSheet();
    if (sheet.outputs.order.size() < 2)
        return;
    const std::string id = sheet.outputId();
    const auto at = std::ranges::find(sheet.outputs.order, id);
    const std::string next = at + 1 == sheet.outputs.order.end() ? *(at - 1) : *(at + 1);
    sheet.outputs.items.erase(id);
    sheet.outputs.order.erase(at);
    sheet.shownOutput = next;
}

void showOutput(work::Work& work, const std::string& output)
{
    if (work.shownSheet().outputs.items.contains(output))
        work.shownSheet().shownOutput = output;
}

std::string outputTitle(const work::Work& work, const std::string& id)
{
    const work::Output& output = work.shownSheet().outputs.items.at(id);
    const std::string format = work::labelOf(output.format, work::kFileFormats);
    return fmt::format("{}, {} px", format.substr(0, format.find(',')), widthOf(work, output));
}

int widthOf(const work::Work& work, const work::Output& output)
{
    return output.widthPx > 0 ? output.widthPx : work.sheet().widthPx();
}

int heightOf(const work::Work& work, const work::Output& output)
{
    const work::SheetSize& s = work.sheet();
    return output.widthPx > 0 ? std::max(1, static_cast<int>(std::lround(output.widthPx * s.heightPt() / s.widthPt()))) : s.heightPx();
}

std::string fileNameOf(const work::Work& work, const work::Output& output, const std::string& workName, const std::string& date)
{
    constexpr std::size_t kMostBytes = 120;
    std::string own = workName;
    if (own.empty() && !work.pieces.order.empty())
        own = titleOf(work.pieces.items.at(work.pieces.order.front()));
    const std::pair<const char*, std::string> tokens[] = {{"{work}", own},
                                                          {"{sheet}", work.shownSheet().name.empty() ? work.shown : work.shownSheet().name},
                                                          {"{width}", std::to_string(widthOf(work, output))},
                                                          {"{height}", std::to_string(heightOf(work, output))},
                                                          {"{date}", date}};
    const std::string pattern = output.name.empty() ? "{work}" : output.name;
    std::string name;
    for (std::size_t at = 0; at < pattern.size();) {
        const auto token = std::ranges::find_if(
            tokens, [&](const auto& t) { return pattern.compare(at, std::string_view(t.first).size(), t.first) == 0; });
        if (token == std::end(tokens)) {
            name += pattern[at++];
        } else {
            name += token->second;
            at += std::string_view(token->first).size();
        }
    }
    // No folders, nothing that other systems refuse, no line breaks, one space at a time.
    std::string clean;
    for (const char c : name) {
        const auto u = static_cast<unsigned char>(c);
        const bool bad = u < 0x20 || u == 0x7f || std::string_view("/\\:*?\"<>|").find(c) != std::string_view::npos;
        const char kept = bad ? ' ' : c;
        if (kept != ' ' || (!clean.empty() && clean.back() != ' '))
            clean += kept;
    }
    std::size_t end = std::min(clean.size(), kMostBytes);
    while (end > 0 && end < clean.size() && (static_cast<unsigned char>(clean[end]) & 0xc0) == 0x80)
        --end;
    clean.resize(end);
    while (!clean.empty() && (clean.back() == ' ' || clean.back() == '.'))
        clean.pop_back();
    while (!clean.empty() && (clean.front() == '.' || clean.front() == ' '))
        clean.erase(clean.begin());
    return clean.empty() ? "still" : clean;
}

}  // namespace session
