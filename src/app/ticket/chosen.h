// What rows speak of: the piece that leads the choice, and structs of all chosen pieces.
#pragma once

#include "app/ticket/section.h"

namespace app {

// Nothing without a choice.
inline const work::Piece* leadPiece(const Context& context)
{
    const session::Choice& choice = context.session->choice();
    return choice.empty() ? nullptr : &context.session->work().pieces.items.at(choice.targets.back().piece);
}

// The first one without a choice.
inline const work::Piece* leadOrFirstPiece(const Context& context)
{
    const work::Work& work = context.session->work();
    const work::Piece* lead = leadPiece(context);
    return lead || work.pieces.order.empty() ? lead : &work.pieces.items.at(work.pieces.order.front());
}

// A struct of every chosen piece that has one: of() gives its address or nullptr.
template <class T, class Of>
Rows::Reach<T> inPieces(const Context& context, Of of)
{
    const session::Session* session = context.session;
    return {[=](const work::Work& w) {
                std::vector<const T*> things;
                for (const std::string& id : session->choice().pieces())
                    if (const T* thing = of(const_cast<work::Piece&>(w.pieces.items.at(id))))  // read only
                        things.push_back(thing);
                return things;
            },
            [=](work::Work& w) {
                std::vector<T*> things;
                for (const std::string& id : session->choice().pieces())
                    if (T* thing = of(w.pieces.items.at(id)))
                        things.push_back(thing);
                return things;
            }};
}

}  // namespace app
