#include "draw.h"

#include <math.h>
#include <stdint.h>
#include <stdlib.h>
#include <string.h>

#define FAST __attribute__((target_clones("avx2", "default")))

// Noise is taken out of the wavelets "à trous" of a picture (B3 spline; Starck and Murtagh, "Image restoration with noise suppression",
// 1994): in each of four levels a coefficient is shrunk by how much of the variance around it is more than that of the noise (Mihçak,
// Kozintsev and Ramchandran, "Low-complexity image denoising", 1999). Luma is done at full size and the two chromas at half.

#define LEVELS 4
#define TILE 768
#define MARGIN 64 // what the levels reach, and the windows around it; even, so that the chromas of tiles fit together

// How much white noise of unit variance is left in each level, and how the noise of a picture that was demosaiced and encoded grows over
// that with the level.
static const float of_level[LEVELS] = {0.891f, 0.201f, 0.086f, 0.041f};
static const float grows = 1.5f;

// One tile, whose planes are of the same size. Rows is room for ROWS rows.
typedef struct {
  int width, height;
  float *plane, *smooth, *rows;
} Tile;

// The rows that are at hand while one goes down a tile: of what was blurred across, of the detail, and of its squares. They stay near the
// processor, which the planes of a tile do not.
#define BLURRED (4 * (1 << (LEVELS - 1)) + 1)
#define WINDOW 5
#define ROWS (BLURRED + 2 * WINDOW)

static int folded(int i, int n) {
  if (i < 0) i = -i;
  if (i >= n) i = 2 * n - 2 - i;
  return i < 0 ? 0 : i >= n ? n - 1 : i;
}

// blur_across and blur_down apply 1 4 6 4 1 / 16 with holes of a step, to one row; in the second, a to e are a step apart.
static inline void blur_across(const float *p, float *q, int width, int step) {
  int inner = width - 2 * step;
  for (int x = 0; x < width; x++) {
    if (x == 2 * step && inner > x) { // where no end is near
      for (; x < inner; x++) q[x] = (p[x - 2 * step] + p[x + 2 * step]) * 0.0625f + (p[x - step] + p[x + step]) * 0.25f + p[x] * 0.375f;
    }
    if (x < width)
      q[x] = (p[folded(x - 2 * step, width)] + p[folded(x + 2 * step, width)]) * 0.0625f +
             (p[folded(x - step, width)] + p[folded(x + step, width)]) * 0.25f + p[x] * 0.375f;
  }
}

static inline void blur_down(const float *a, const float *b, const float *c, const float *d, const float *e, float *q, int width) {
  for (int x = 0; x < width; x++) q[x] = (a[x] + e[x]) * 0.0625f + (b[x] + d[x]) * 0.25f + c[x] * 0.375f;
}

// squared sums the squares of five, across.
static inline void squared(const float *d, float *s, int width) {
  for (int x = 0; x < width; x++) {
    if (x == 2 && width > 4) {
      for (; x < width - 2; x++)
        s[x] = d[x - 2] * d[x - 2] + d[x - 1] * d[x - 1] + d[x] * d[x] + d[x + 1] * d[x + 1] + d[x + 2] * d[x + 2];
    }
    float sum = 0;
    for (int k = -2; k <= 2; k++) sum += d[folded(x + k, width)] * d[folded(x + k, width)];
    s[x] = sum;
  }
}

// shrunk is what of a row of detail is more than noise of a variance, by the mean square in windows of 5 × 5, whose rows a to f are; it is
// added to out, or begins it, and with what is left under it ends it.
static inline void shrunk(const float *d, const float *a, const float *b, const float *c, const float *e, const float *f, float variance,
                          const float *rest, int begins, float *out, int width) {
  if (begins) memset(out, 0, sizeof(float) * width);
  for (int x = 0; x < width; x++) {
    float v = (a[x] + b[x] + c[x] + e[x] + f[x]) * 0.04f, more = v - variance;
    more = more > 0 ? more : 0; // without a branch, so that eight are done at once
    v = v > 1e-20f ? v : 1e-20f;
    out[x] += d[x] * more / v;
  }
  for (int x = 0; rest && x < width; x++) out[x] += rest[x];
}

// denoise_level takes noise of a variance out of the finest of what is left of a plane, and leaves the rest in smooth: all that is done
// to a row is done while it is at hand.
FAST static void denoise_level(Tile *t, int level, float variance, float *out) {
  int width = t->width, height = t->height, step = 1 << level, last = level == LEVELS - 1;
  float *blurred = t->rows, *detail = blurred + (size_t)BLURRED * width, *squares = detail + (size_t)WINDOW * width;
  int ring = 4 * step + 1;
#define BLUR(y) (blurred + (size_t)(folded(y, height) % ring) * width)
#define SQUARE(y) (squares + (size_t)(folded(y, height) % WINDOW) * width)
  for (int y = 0; y < 2 * step && y < height; y++) blur_across(t->plane + (size_t)y * width, BLUR(y), width, step);
  for (int y = 0; y < height + 2; y++) {
    if (y + 2 * step < height) blur_across(t->plane + (size_t)(y + 2 * step) * width, BLUR(y + 2 * step), width, step);
    if (y < height) {
      const float *p = t->plane + (size_t)y * width;
      float *q = t->smooth + (size_t)y * width, *d = detail + (size_t)(y % WINDOW) * width;
      blur_down(BLUR(y - 2 * step), BLUR(y - step), BLUR(y), BLUR(y + step), BLUR(y + 2 * step), q, width);
      for (int x = 0; x < width; x++) d[x] = p[x] - q[x];
      squared(d, SQUARE(y), width);
    }
    int at = y - 2;
    if (at >= 0)
      shrunk(detail + (size_t)(at % WINDOW) * width, SQUARE(at - 2), SQUARE(at - 1), SQUARE(at), SQUARE(at + 1), SQUARE(at + 2), variance,
             last ? t->smooth + (size_t)at * width : NULL, level == 0, out + (size_t)at * width, width);
  }
}

// denoise_plane takes noise of a standard deviation out of the plane of a tile.
static void denoise_plane(Tile *t, float sigma, float *out) {
  float more = 1;
  for (int level = 0; level < LEVELS; level++) {
    float threshold = sigma * of_level[level] * more;
    denoise_level(t, level, threshold * threshold, out);
    float *was = t->plane;
    t->plane = t->smooth;
    t->smooth = was;
    more *= grows;
  }
}

static inline void ycc(const BsPixels *in, int x, int y, float *out) {
  size_t p = ((size_t)y * in->width + x) * in->bands;
  float r, g, b;
  if (in->bits == 8) {
    const uint8_t *v = (const uint8_t *)in->data + p;
    r = v[0] * 257.0f, g = v[1] * 257.0f, b = v[2] * 257.0f;
  } else {
    const uint16_t *v = (const uint16_t *)in->data + p;
    r = v[0], g = v[1], b = v[2];
  }
  out[0] = 0.299f * r + 0.587f * g + 0.114f * b;
  out[1] = -0.168736f * r - 0.331264f * g + 0.5f * b;
  out[2] = 0.5f * r - 0.418688f * g - 0.081312f * b;
}

#define PATCH 64
#define BINS 4096

// sigmas measures the noise of luma and of the two chromas at half size, in parts of 65535: the median of the finest level in patches
// all over the picture, ÷ 0.6745 for a normal distribution, ÷ 0.891 for the level.
static void sigmas(const BsPixels *in, float out[3]) {
  static const float widest = 16384;
  uint32_t counts[3][BINS];
  memset(counts, 0, sizeof counts);
  uint32_t total[3] = {0, 0, 0};
  float values[3][PATCH * PATCH];
  int across = in->width / PATCH, down = in->height / PATCH;
  int every_x = across > 8 ? across / 8 : 1, every_y = down > 8 ? down / 8 : 1;
  for (int py = 0; py < (down ? down : 1); py += every_y)
    for (int px = 0; px < (across ? across : 1); px += every_x) {
      int width = in->width < PATCH ? in->width : PATCH, height = in->height < PATCH ? in->height : PATCH;
      for (int y = 0; y < height; y++)
        for (int x = 0; x < width; x++) {
          float c[3];
          ycc(in, px * PATCH + x, py * PATCH + y, c);
          for (int k = 0; k < 3; k++) values[k][y * PATCH + x] = c[k];
        }
      for (int k = 0; k < 3; k++) {
        int half = k > 0, w = half ? width / 2 : width, h = half ? height / 2 : height;
        if (half)
          for (int y = 0; y < h; y++)
            for (int x = 0; x < w; x++) {
              float *v = values[k] + 2 * y * PATCH + 2 * x;
              values[k][y * PATCH + x] = (v[0] + v[1] + v[PATCH] + v[PATCH + 1]) * 0.25f;
            }
        for (int y = 2; y < h - 2; y++)
          for (int x = 2; x < w - 2; x++) {
            static const float b3[5] = {0.0625f, 0.25f, 0.375f, 0.25f, 0.0625f};
            float mean = 0;
            for (int j = -2; j <= 2; j++)
              for (int i = -2; i <= 2; i++) mean += b3[j + 2] * b3[i + 2] * values[k][(y + j) * PATCH + x + i];
            float d = fabsf(values[k][y * PATCH + x] - mean);
            int bin = (int)(d * (BINS / widest));
            counts[k][bin >= BINS ? BINS - 1 : bin]++;
            total[k]++;
          }
      }
    }
  for (int k = 0; k < 3; k++) {
    uint32_t seen = 0;
    int bin = 0;
    while (bin < BINS - 1 && seen + counts[k][bin] < total[k] / 2) seen += counts[k][bin++];
    float part = counts[k][bin] ? (total[k] / 2.0f - seen) / counts[k][bin] : 0;
    out[k] = total[k] ? (bin + part) * (widest / BINS) / 0.6745f / of_level[0] : 0;
  }
}

float bs_noise_of(const BsPixels *in) {
  float s[3];
  sigmas(in, s);
  return s[0] / 65535;
}

static inline uint16_t word(float x) { return x < 0 ? 0 : x > 65535 ? 65535 : (uint16_t)(x + 0.5f); }

// planes_of fills luma and the two chromas of a part of a picture.
FAST static void planes_of(const BsPixels *in, int x0, int y0, int width, int height, float *luma, float *cb, float *cr) {
  for (int y = 0; y < height; y++)
    for (int x = 0; x < width; x++) {
      float c[3];
      ycc(in, x0 + x, y0 + y, c);
      size_t p = (size_t)y * width + x;
      luma[p] = c[0];
      cb[p] = c[1];
      cr[p] = c[2];
    }
}

// halved is the mean of each four; an odd last row or column counts twice.
FAST static void halved(const float *in, int width, int height, float *out) {
  int half_width = (width + 1) / 2, half_height = (height + 1) / 2;
  for (int y = 0; y < half_height; y++) {
    const float *p = in + (size_t)2 * y * width, *q = 2 * y + 1 < height ? p + width : p;
    for (int x = 0; x < half_width; x++) {
      int right = 2 * x + 1 < width ? 2 * x + 1 : 2 * x;
      out[(size_t)y * half_width + x] = (p[2 * x] + p[right] + q[2 * x] + q[right]) * 0.25f;
    }
  }
}

// between is the value at a quarter of the way from the middle of what was halved to that beside it, in a row and in the one beside that.
static inline float between(const float *p, const float *q, int at, int beside) {
  return (p[at] * 0.75f + p[beside] * 0.25f) * 0.75f + (q[at] * 0.75f + q[beside] * 0.25f) * 0.25f;
}

// doubled interpolates between the middles of what was halved, for the rows and columns from left, top on.
FAST static void doubled(const float *in, int width, int height, float *out) {
  int half_width = (width + 1) / 2, half_height = (height + 1) / 2;
  for (int y = 0; y < height; y++) {
    int near = y / 2, far = folded(near + (y % 2 ? 1 : -1), half_height);
    if (y == 0 || far >= half_height || half_height == 1) far = near;
    const float *p = in + (size_t)near * half_width, *q = in + (size_t)far * half_width;
    float *o = out + (size_t)y * width;
    for (int at = 0; at < half_width; at++) { // the ends, of which one side is missing
      if (at == 1 && half_width > 2)
        for (; at < half_width - 1; at++) {
          o[2 * at] = between(p, q, at, at - 1);
          o[2 * at + 1] = between(p, q, at, at + 1);
        }
      o[2 * at] = between(p, q, at, at ? at - 1 : at);
      if (2 * at + 1 < width) o[2 * at + 1] = between(p, q, at, at + 1 < half_width ? at + 1 : at);
    }
  }
}

// put writes the inner part of a tile.
FAST static void put(const BsPixels *in, BsPixels *out, int x0, int y0, int left, int top, int right, int bottom, int width,
                     const float *luma, const float *cb, const float *cr) {
  for (int y = top; y < bottom; y++)
    for (int x = left; x < right; x++) {
      size_t from = (size_t)(y - y0) * width + x - x0, p = ((size_t)y * out->width + x) * out->bands;
      uint16_t *q = (uint16_t *)out->data + p;
      q[0] = word(luma[from] + 1.402f * cr[from]);
      q[1] = word(luma[from] - 0.344136f * cb[from] - 0.714136f * cr[from]);
      q[2] = word(luma[from] + 1.772f * cb[from]);
      if (out->bands == 4) q[3] = in->bits == 8 ? ((const uint8_t *)in->data)[p + 3] * 257 : ((const uint16_t *)in->data)[p + 3];
    }
}

// MOST is how many floats a tile needs at most.
#define MOST ((size_t)(TILE + 2 * MARGIN) * ((TILE + 2 * MARGIN) * 6 + ROWS))

static void denoise_tile(const BsPixels *in, BsPixels *out, int left, int top, const float sigma[3], float luma, float chroma, float *all) {
  int bottom = top + TILE < in->height ? top + TILE : in->height, right = left + TILE < in->width ? left + TILE : in->width;
  int x0 = left > MARGIN ? left - MARGIN : 0, y0 = top > MARGIN ? top - MARGIN : 0;
  int x1 = right + MARGIN < in->width ? right + MARGIN : in->width, y1 = bottom + MARGIN < in->height ? bottom + MARGIN : in->height;
  int width = x1 - x0, height = y1 - y0, half_width = (width + 1) / 2, half_height = (height + 1) / 2;
  size_t n = (size_t)width * height, half = (size_t)half_width * half_height;
  float *planes[3] = {all, all + n, all + 2 * n}, *result = all + 3 * n;
  planes_of(in, x0, y0, width, height, planes[0], planes[1], planes[2]);
  for (int k = 0; k < 3; k++) {
    float strength = sigma[k] * (k ? chroma : luma);
    if (strength <= 0) continue;
    size_t of = k ? half : n;
    float *work = all + 4 * n;
    Tile t = {k ? half_width : width, k ? half_height : height, work, work + of, all + 6 * n};
    if (k) halved(planes[k], width, height, t.plane);
    else memcpy(t.plane, planes[k], sizeof(float) * n);
    denoise_plane(&t, strength, result);
    if (k) doubled(result, width, height, planes[k]);
    else memcpy(planes[k], result, sizeof(float) * n);
  }
  put(in, out, x0, y0, left, top, right, bottom, width, planes[0], planes[1], planes[2]);
}

int bs_denoise(const BsPixels *in, BsPixels *out, float luma, float chroma) {
  float sigma[3], *all = malloc(sizeof(float) * MOST);
  if (!all) return -1;
  sigmas(in, sigma);
  for (int top = 0; top < in->height; top += TILE)
    for (int left = 0; left < in->width; left += TILE) denoise_tile(in, out, left, top, sigma, luma, chroma, all);
  free(all);
  return 0;
}
