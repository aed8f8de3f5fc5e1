#include "draw.h"

#include <stdint.h>
#include <stdlib.h>
#include <string.h>

// The base of a picture is its brightness without its fine detail, and with its edges: the fast guided filter (He and Sun, "Fast Guided
// Filter", 2015) of the encoded luma by itself, on a small copy. What it finds, a and b, is used at any size.

static const int radius = 16;       // places of the map
static const float little = 0.01f;  // ε, in squares of full brightness

// box is the mean over a square of 2·radius + 1 places, of what of it lies on the map; both passes with running sums.
static void box(const float *in, float *out, float *sums, int width, int height) {
  for (int y = 0; y < height; y++) {
    const float *line = in + (size_t)y * width;
    double sum = 0;
    int from = 0, to = 0;
    for (int x = 0; x < width; x++) {
      while (to < width && to <= x + radius) sum += line[to++];
      while (from < x - radius) sum -= line[from++];
      sums[(size_t)y * width + x] = (float)(sum / (to - from));
    }
  }
  double *column = calloc(width, sizeof(double));
  if (!column) {
    memcpy(out, sums, sizeof(float) * width * height);
    return;
  }
  int from = 0, to = 0;
  for (int y = 0; y < height; y++) {
    while (to < height && to <= y + radius) {
      for (int x = 0; x < width; x++) column[x] += sums[(size_t)to * width + x];
      to++;
    }
    while (from < y - radius) {
      for (int x = 0; x < width; x++) column[x] -= sums[(size_t)from * width + x];
      from++;
    }
    for (int x = 0; x < width; x++) out[(size_t)y * width + x] = (float)(column[x] / (to - from));
  }
  free(column);
}

// row_luma is the encoded luma of a row, in 255ths.
__attribute__((target_clones("avx2", "default"))) static void row_luma(const BsPixels *in, int y, float *out) {
  int n = in->width, bands = in->bands;
  if (in->bits == 8) {
    const uint8_t *p = (const uint8_t *)in->data + (size_t)y * n * bands;
    for (int i = 0; i < n; i++) out[i] = 0.2126f * p[bands * i] + 0.7152f * p[bands * i + 1] + 0.0722f * p[bands * i + 2];
    return;
  }
  const uint16_t *p = (const uint16_t *)in->data + (size_t)y * n * bands;
  for (int i = 0; i < n; i++)
    out[i] = (0.2126f * p[bands * i] + 0.7152f * p[bands * i + 1] + 0.0722f * p[bands * i + 2]) * (1 / 257.0f);
}

// small_luma shrinks the encoded luma to the size of the map: each place is the mean of the pixels in it.
static int small_luma(const BsPixels *in, float *out, int width, int height) {
  float *line = malloc(sizeof(float) * in->width);
  if (!line) return -1;
  memset(out, 0, sizeof(float) * width * height);
  for (int y = 0; y < height; y++) {
    int top = (int)((int64_t)y * in->height / height), bottom = (int)((int64_t)(y + 1) * in->height / height);
    float *places = out + (size_t)y * width;
    for (int j = top; j < bottom; j++) {
      row_luma(in, j, line);
      for (int x = 0, i = 0; x < width; x++) {
        int right = (int)((int64_t)(x + 1) * in->width / width);
        float sum = 0;
        int from = i;
        for (; i < right; i++) sum += line[i];
        places[x] += sum / ((float)(right - from) * (bottom - top) * 255);
      }
    }
  }
  free(line);
  return 0;
}

int bs_base_map(const BsPixels *in, BsBase *out) {
  int longer = in->width > in->height ? in->width : in->height, side = longer < BS_BASE ? longer : BS_BASE;
  int width = (int)((int64_t)in->width * side / longer), height = (int)((int64_t)in->height * side / longer);
  if (width < 1) width = 1;
  if (height < 1) height = 1;
  size_t n = (size_t)width * height;
  float *all = malloc(sizeof(float) * n * 6);
  out->places = malloc(sizeof(BsPlace) * n);
  out->width = width;
  out->height = height;
  float *luma = all, *mean = all + n, *square = all + 2 * n, *sums = all + 3 * n, *a = all + 4 * n, *b = all + 5 * n;
  if (!all || !out->places || small_luma(in, luma, width, height)) {
    free(all);
    return -1;
  }
  box(luma, mean, sums, width, height);
  for (size_t i = 0; i < n; i++) a[i] = luma[i] * luma[i];
  box(a, square, sums, width, height);
  for (size_t i = 0; i < n; i++) {
    float variance = square[i] - mean[i] * mean[i];
    if (variance < 0) variance = 0;
    a[i] = variance / (variance + little);
    b[i] = mean[i] * (1 - a[i]);
  }
  box(a, mean, sums, width, height);
  box(b, square, sums, width, height);
  for (size_t i = 0; i < n; i++) {
    out->places[i].a = mean[i];
    out->places[i].b = square[i];
  }
  free(all);
  return 0;
}

void bs_base_free(BsBase *base) { free(base->places); }
