// What a recipe does to pixels, on plain memory. Pictures are rows of 3 or 4 values for each pixel (red, green, blue, alpha), of 8 or 16
// bits; encoded as sRGB. Each function returns 0, or -1 when memory is short.
#include <stddef.h>

#define BS_CURVE 1026
#define BS_LOCAL 257

typedef struct {
  void *data;
  int width, height, bands, bits;
} BsPixels;

// See recipe.Tone for what the parts mean.
typedef struct {
  float matrix[9], curve[BS_CURVE], encode[BS_CURVE], local[BS_LOCAL];
  float clarity, vignette, saturation, vibrance, mono, mix[6];
  int uses_base; // local or clarity do something
} BsTone;

// The base map: base = a · ly + b, up to BS_BASE places wide and high, at width × height places over the whole upright file. The pixel
// (x, y) lies at the place x0 + x_by_x · x + x_by_y · y across, and likewise down.
#define BS_BASE 512

typedef struct {
  float a, b;
} BsPlace;

typedef struct {
  BsPlace *places;
  int width, height;
  float x0, x_by_x, x_by_y, y0, y_by_x, y_by_y;
} BsBase;

// Amount is a factor of what is finer than sigma pixels; what is less than threshold, in parts of full brightness, stays.
typedef struct {
  float amount, sigma, threshold;
} BsSharpen;

// The radius and the place are in pixels.
typedef struct {
  float x, y, radius;
} BsEye;

extern float bs_linear8[256], bs_linear16[65536];

int bs_base_map(const BsPixels *in, BsBase *out);
void bs_base_free(BsBase *base);
int bs_finish(const BsPixels *in, BsPixels *out, const BsTone *tone, const BsBase *base, const BsSharpen *sharpen);
int bs_denoise(const BsPixels *in, BsPixels *out, float luma, float chroma);
float bs_noise_of(const BsPixels *in);
void bs_widen(const BsPixels *in, BsPixels *out);
void bs_mend_eyes(BsPixels *in, const BsEye *eyes, int n);
