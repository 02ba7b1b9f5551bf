// The faces of this machine, and what kind each is.
#pragma once

#include <string>
#include <vector>

namespace outline {

struct FaceHere {
    std::string family, style;
    std::string path;
    int index = 0;                 // of the face in its file
    int weight = 80, width = 100;  // as fontconfig counts them: 80 regular, 200 bold, 210 black; 100 normal, 75 condensed
    bool italic = false;

    bool operator==(const FaceHere&) const = default;
};

// Scalable faces without colour, family by family, upright ones from light to heavy, then italic ones; a variable font as its named
// instances. Cost: 10 to 100 ms.
std::vector<FaceHere> facesHere();

enum FaceKind : unsigned { Heavy = 1, Rounded = 2, Script = 4, Slab = 8, Blackletter = 16, Narrow = 32 };

// What a face is, as an OR of kinds: by weight and width, by what its file says of itself (OS/2: sFamilyClass and PANOSE, OpenType 1.9), by
// words in its name, and by its capitals H and I. 0 for a plain one or what cannot be read. Cost: about 0.1 ms.
unsigned kindsOf(const FaceHere& face);

}  // namespace outline
