// Result<T>: a value or an Error. No exception crosses a folder's border.
#pragma once

#include <string>
#include <tl/expected.hpp>
#include <vector>

namespace base {

enum class ErrorCode {
    BadInput,  // the person's file, number, font or picture is at fault
    BadUsage,  // a command was called wrongly
    Stopped,   // the work was stopped on request
    CannotRead,
    CannotWrite,
    Busy,      // another process is at work on it
    TooLarge,  // does not fit into memory or into a format
    Internal,
};

// What went wrong. `message` is one sentence for people and says what to do; `place` names the spot in their data:
// a file, or a file and a JSON pointer.
struct Error {
    ErrorCode code = ErrorCode::Internal;
    std::string message;
    std::string place;

    bool operator==(const Error&) const = default;
};

template <class T>
using Result = tl::expected<T, Error>;

inline tl::unexpected<Error> fail(ErrorCode code, std::string message, std::string place = {})
{
    return tl::unexpected<Error>(Error{code, std::move(message), std::move(place)});
}

// The error of another result, passed on.
template <class T>
tl::unexpected<Error> failed(const T& result)
{
    return tl::unexpected<Error>(result.error());
}

// One line for a terminal or a log: "place: message".
inline std::string oneLine(const Error& error)
{
    return error.place.empty() ? error.message : error.place + ": " + error.message;
}

// Something to know that stops nothing, such as a missing glyph. `kind` is a stable word for programs.
struct Note {
    std::string kind;
    std::string message;
    std::string place;

    bool operator==(const Note&) const = default;
};
using Notes = std::vector<Note>;

}  // namespace base
