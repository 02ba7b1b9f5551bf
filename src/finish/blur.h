// Gaussian blur of any size in the same time a pixel.
//
// Four extended boxes one after the other (P. Gwosdek and others, Theoretical foundations of Gaussian convolution by extended box
// filtering, 2011): a box whose two end pixels count by a fraction, so that the variance is that of the Gaussian, exactly. Sums are whole
// numbers of 2^-24, so that they do not depend on where summing began: parts of a picture equal the whole, bit by bit. Wide ones are of
// blocks of pixels, where the variance is exact on the mean over places.
#pragma once

#include "finish/graph.h"

namespace finish {

// px round a pixel that blurred() looks at.
int blurReach(double sigmaPx);

// `area` of a picture, of an image that covers it and blurReach() round it, as far as the picture goes; beyond its edge it goes on as
// there. Values up to 1e6. O(pixels).
Image blurred(const Image& image, const Area& area, double sigmaPx);

}  // namespace finish
