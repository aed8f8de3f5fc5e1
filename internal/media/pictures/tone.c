#include "draw.h"

#include <stdint.h>
#include <stdlib.h>
#include <string.h>

#define FAST __attribute__((target_clones("avx2", "default")))

static inline float clamp01(float x) { return x < 0 ? 0 : x > 1 ? 1 : x; }

static inline uint32_t bits_of(float x) {
  uint32_t u;
  memcpy(&u, &x, sizeof u);
  return u;
}

// at reads a table of recipe.CurveAt: 64 places in each octave from 2^-12 to 2^4, linear between them and down to 0.
static inline float at(const float *table, float x) {
  const float lowest = 1.0f / 4096;
  float y = x < lowest ? lowest : x > 15.99f ? 15.99f : x;
  uint32_t u = bits_of(y) - ((127u - 12u) << 23);
  uint32_t i = u >> 17;
  float f = (float)(int32_t)(u & 0x1ffff) * (1.0f / 0x20000);
  float above = table[1 + i] + (table[2 + i] - table[1 + i]) * f;
  float below = table[0] + (table[1] - table[0]) * ((x < 0 ? 0 : x) * 4096);
  return x < lowest ? below : above;
}

// exp2 within 3e-7 for -20 to 20: the whole part into the exponent, a polynomial for the rest.
static inline float exp2_of(float e) {
  e = e < -20 ? -20 : e > 20 ? 20 : e;
  int32_t whole = (int32_t)(e + 32) - 32;
  float f = e - (float)whole;
  float p = 1.0f + f * (0.69314718f + f * (0.24022651f + f * (0.05550411f + f * (0.00961813f + f * (0.00133336f + f * 0.00015468f)))));
  uint32_t u = (uint32_t)(whole + 127) << 23;
  float scale;
  memcpy(&scale, &u, sizeof scale);
  return p * scale;
}

// Filled once, before anything is drawn, by whoever knows the transfer function.
float bs_linear8[256], bs_linear16[65536];

// Values of a row, each in a plane of its own.
typedef struct {
  float *r, *g, *b, *e, *base;
} Row;

// Nothing else points to what these planes hold; told so, the compiler does eight pixels at a time.
#define COLOURS(row) float *restrict r_ = (row).r, *restrict g_ = (row).g, *restrict b_ = (row).b

FAST static void decode8(const uint8_t *in, int bands, int n, const float *linear, Row row) {
  for (int i = 0; i < n; i++) {
    row.r[i] = linear[in[bands * i]];
    row.g[i] = linear[in[bands * i + 1]];
    row.b[i] = linear[in[bands * i + 2]];
  }
}

FAST static void decode16(const uint16_t *in, int bands, int n, const float *linear, Row row) {
  for (int i = 0; i < n; i++) {
    row.r[i] = linear[in[bands * i]];
    row.g[i] = linear[in[bands * i + 1]];
    row.b[i] = linear[in[bands * i + 2]];
  }
}

// luminance_of puts the encoded luminance into e.
FAST static void luminance_of(int n, const float *restrict encode, Row row) {
  COLOURS(row);
  float *restrict e = row.e;
  for (int i = 0; i < n; i++) e[i] = at(encode, 0.2126f * r_[i] + 0.7152f * g_[i] + 0.0722f * b_[i]);
}

// base_of reads the base map between its places, and applies it to the luminance in e.
FAST static void base_of(const BsBase *m, int y, int n, Row row) {
  const float most_x = (float)(m->width - 1), most_y = (float)(m->height - 1);
  const int right = m->width > 1, down = m->height > 1 ? m->width : 0;
  for (int i = 0; i < n; i++) {
    float px = m->x0 + m->x_by_x * i + m->x_by_y * y, py = m->y0 + m->y_by_x * i + m->y_by_y * y;
    px = px < 0 ? 0 : px > most_x ? most_x : px;
    py = py < 0 ? 0 : py > most_y ? most_y : py;
    int ix = (int)px, iy = (int)py;
    ix = ix > m->width - 2 ? m->width - 2 : ix;
    iy = iy > m->height - 2 ? m->height - 2 : iy;
    ix = ix < 0 ? 0 : ix;
    iy = iy < 0 ? 0 : iy;
    float fx = px - ix, fy = py - iy;
    const BsPlace *p = m->places + iy * m->width + ix, *q = p + down;
    float a0 = p->a + (p[right].a - p->a) * fx, a1 = q->a + (q[right].a - q->a) * fx;
    float b0 = p->b + (p[right].b - p->b) * fx, b1 = q->b + (q[right].b - q->b) * fx;
    row.base[i] = clamp01((a0 + (a1 - a0) * fy) * row.e[i] + (b0 + (b1 - b0) * fy));
  }
}

// line_of is what base_of needs of the map for a row along which its place goes straight across: the line of the map, interpolated down.
FAST static void line_of(const BsBase *m, int y, BsPlace *line) {
  float py = m->y0 + m->y_by_y * y, most = (float)(m->height - 1);
  py = py < 0 ? 0 : py > most ? most : py;
  int iy = (int)py;
  iy = iy > m->height - 2 ? m->height - 2 : iy;
  iy = iy < 0 ? 0 : iy;
  float fy = py - iy;
  const BsPlace *p = m->places + iy * m->width, *q = p + (m->height > 1 ? m->width : 0);
  for (int i = 0; i < m->width; i++) {
    line[i].a = p[i].a + (q[i].a - p[i].a) * fy;
    line[i].b = p[i].b + (q[i].b - p[i].b) * fy;
  }
}

FAST static void base_along(const BsBase *m, const BsPlace *restrict line, int y, int n, Row row) {
  const float most = (float)(m->width - 1), from = m->x0 + m->x_by_y * y, step = m->x_by_x;
  const int right = m->width > 1, last = m->width - 2;
  const float *restrict e = row.e;
  float *restrict base = row.base;
  for (int i = 0; i < n; i++) {
    float px = from + step * i;
    px = px < 0 ? 0 : px > most ? most : px;
    int ix = (int)px;
    ix = ix > last ? last : ix;
    ix = ix < 0 ? 0 : ix;
    float fx = px - ix, a = line[ix].a, b = line[ix].b;
    base[i] = clamp01((a + (line[ix + right].a - a) * fx) * e[i] + b + (line[ix + right].b - b) * fx);
  }
}

// local_of turns luminance and base into EV, in e.
FAST static void local_of(const BsTone *restrict t, int n, Row row) {
  const float *restrict table = t->local, *restrict bases = row.base;
  const float clarity = t->clarity;
  float *restrict e = row.e;
  for (int i = 0; i < n; i++) {
    float base = bases[i], p = base * (BS_LOCAL - 1);
    int k = (int)p;
    k = k > BS_LOCAL - 2 ? BS_LOCAL - 2 : k;
    float twice = 2 * base - 1;
    float ev = table[k] + (table[k + 1] - table[k]) * (p - k);
    float fine = e[i] - base;
    fine = fine / (1 + fine * fine * 625); // what is larger than a 25th is an edge, and would get a halo
    e[i] = ev + clarity * fine * (1 - (twice < 0 ? -twice : twice) / 2);
  }
}

// vignette_of adds to the EV what the distance from the middle, in half diagonals, does.
FAST static void vignette_of(const BsTone *t, int y, int width, int height, Row row) {
  float per = 4.0f / ((float)width * width + (float)height * height), dy = y + 0.5f - height * 0.5f;
  for (int i = 0; i < width; i++) {
    float dx = i + 0.5f - width * 0.5f, square = (dx * dx + dy * dy) * per;
    row.e[i] += t->vignette * square * square;
  }
}

FAST static void light(int n, Row row) {
  COLOURS(row);
  const float *restrict e = row.e;
  for (int i = 0; i < n; i++) {
    float gain = exp2_of(e[i]);
    r_[i] *= gain;
    g_[i] *= gain;
    b_[i] *= gain;
  }
}

FAST static void curve(const BsTone *t, int n, Row row) {
  COLOURS(row);
  const float *restrict m = t->matrix, *restrict table = t->curve;
  for (int i = 0; i < n; i++) {
    float r = r_[i], g = g_[i], b = b_[i];
    r_[i] = at(table, m[0] * r + m[1] * g + m[2] * b);
    g_[i] = at(table, m[3] * r + m[4] * g + m[5] * b);
    b_[i] = at(table, m[6] * r + m[7] * g + m[8] * b);
  }
}

static inline float larger(float a, float b) { return a > b ? a : b; }
static inline float smaller(float a, float b) { return a < b ? a : b; }

FAST static void grey(const BsTone *restrict t, int n, Row row) {
  COLOURS(row);
  for (int i = 0; i < n; i++) {
    float r = r_[i], g = g_[i], b = b_[i];
    float most = larger(r, larger(g, b)), least = smaller(r, smaller(g, b)), middle = r + g + b - most - least;
    float first = r == most ? t->mix[0] : g == most ? t->mix[2] : t->mix[4];
    float second = b == least ? t->mix[1] : r == least ? t->mix[3] : t->mix[5];
    float y = 0.2126f * r + 0.7152f * g + 0.0722f * b;
    y += 0.5f * ((most - middle) * first + (middle - least) * second);
    r_[i] = clamp01(r + t->mono * (y - r));
    g_[i] = clamp01(g + t->mono * (y - g));
    b_[i] = clamp01(b + t->mono * (y - b));
  }
}

FAST static void saturate(const BsTone *restrict t, int n, Row row) {
  COLOURS(row);
  for (int i = 0; i < n; i++) {
    float r = r_[i], g = g_[i], b = b_[i];
    float most = larger(r, larger(g, b)), least = smaller(r, smaller(g, b));
    float s = most > 0 ? (most - least) / most : 0;
    float y = 0.2126f * r + 0.7152f * g + 0.0722f * b, k = 1 + t->saturation + t->vibrance * (1 - s) * (1 - s);
    k = k < 0 ? 0 : k;
    r_[i] = clamp01(y + (r - y) * k);
    g_[i] = clamp01(y + (g - y) * k);
    b_[i] = clamp01(y + (b - y) * k);
  }
}

// tone_row draws one row into planes of encoded values.
static void tone_row(const BsPixels *in, int y, const BsTone *t, const BsBase *base, Row row) {
  int n = in->width, any_local = t->uses_base && base;
  const float *linear = in->bits == 8 ? bs_linear8 : bs_linear16;
  if (in->bits == 8) decode8((const uint8_t *)in->data + (size_t)y * n * in->bands, in->bands, n, linear, row);
  else decode16((const uint16_t *)in->data + (size_t)y * n * in->bands, in->bands, n, linear, row);
  if (any_local) {
    luminance_of(n, t->encode, row);
    BsPlace line[BS_BASE];
    if (base->y_by_x == 0 && base->width <= BS_BASE) {
      line_of(base, y, line);
      base_along(base, line, y, n, row);
    } else {
      base_of(base, y, n, row);
    }
    local_of(t, n, row);
  } else {
    memset(row.e, 0, n * sizeof(float));
  }
  if (t->vignette != 0) vignette_of(t, y, n, in->height, row);
  if (any_local || t->vignette != 0) light(n, row);
  curve(t, n, row);
  if (t->mono != 0) grey(t, n, row);
  if (t->saturation != 0 || t->vibrance != 0) saturate(t, n, row);
}

// plain_row gives the values of a row as they are.
FAST static void plain_row(const BsPixels *in, int y, Row row) {
  int n = in->width, bands = in->bands;
  if (in->bits == 8) {
    const uint8_t *p = (const uint8_t *)in->data + (size_t)y * n * bands;
    for (int i = 0; i < n; i++) {
      row.r[i] = p[bands * i] * (1 / 255.0f);
      row.g[i] = p[bands * i + 1] * (1 / 255.0f);
      row.b[i] = p[bands * i + 2] * (1 / 255.0f);
    }
    return;
  }
  const uint16_t *p = (const uint16_t *)in->data + (size_t)y * n * bands;
  for (int i = 0; i < n; i++) {
    row.r[i] = p[bands * i] * (1 / 65535.0f);
    row.g[i] = p[bands * i + 1] * (1 / 65535.0f);
    row.b[i] = p[bands * i + 2] * (1 / 65535.0f);
  }
}

FAST static void write_row(Row row, const float *more, const BsPixels *in, BsPixels *out, int y) {
  int n = out->width, bands = out->bands;
  uint8_t *p = (uint8_t *)out->data + (size_t)y * n * bands;
  for (int i = 0; i < n; i++) {
    float d = more ? more[i] : 0;
    p[bands * i] = (uint8_t)(clamp01(row.r[i] + d) * 255.0f + 0.5f);
    p[bands * i + 1] = (uint8_t)(clamp01(row.g[i] + d) * 255.0f + 0.5f);
    p[bands * i + 2] = (uint8_t)(clamp01(row.b[i] + d) * 255.0f + 0.5f);
  }
  if (bands < 4) return;
  size_t start = (size_t)y * n * bands;
  for (int i = 0; i < n; i++)
    p[bands * i + 3] = in->bits == 8 ? ((const uint8_t *)in->data)[start + bands * i + 3]
                                     : (uint8_t)((((const uint16_t *)in->data)[start + bands * i + 3] + 128) / 257);
}

// A Gaussian, separable, of sigma up to 3 pixels: 2·reach + 1 places.
#define REACH 9

static int gaussian(float sigma, float *weights) {
  int reach = (int)(3 * sigma + 0.999f);
  if (reach > REACH) reach = REACH;
  float sum = 0;
  for (int i = 0; i <= reach; i++) {
    float x = i / sigma;
    weights[i] = exp2_of(-x * x * 0.5f * 1.44269504f);
    sum += i ? 2 * weights[i] : weights[i];
  }
  for (int i = 0; i <= reach; i++) weights[i] /= sum;
  return reach;
}

FAST static void luma_row(int n, Row row, float *y) {
  for (int i = 0; i < n; i++) y[i] = 0.299f * row.r[i] + 0.587f * row.g[i] + 0.114f * row.b[i];
}

// across blurs a row whose ends are repeated in reach places on both sides; y has them in front.
FAST static void across(int n, const float *weights, int reach, float *y, float *out) {
  for (int i = 1; i <= reach; i++) {
    y[-i] = y[0];
    y[n - 1 + i] = y[n - 1];
  }
  for (int i = 0; i < n; i++) out[i] = weights[0] * y[i];
  for (int k = 1; k <= reach; k++)
    for (int i = 0; i < n; i++) out[i] += weights[k] * (y[i - k] + y[i + k]);
}

// finer is what the sharpened row adds: what the blurred one lacks, beyond the threshold, softly limited so that no seam shines.
FAST static void finer(int n, const float *y, const float *blurred, const BsSharpen *s, float *out) {
  const float limit = 0.12f;
  for (int i = 0; i < n; i++) {
    float d = y[i] - blurred[i], size = (d < 0 ? -d : d) - s->threshold;
    size = size < 0 ? 0 : size * s->amount;
    size = size / (1 + size / limit);
    out[i] = d < 0 ? -size : size;
  }
}

// sharpened writes a picture row by row; the rows around one are kept in rings.
static int sharpened(const BsPixels *in, BsPixels *out, const BsTone *tone, const BsBase *base, const BsSharpen *s) {
  int n = in->width, height = in->height, padded = n + 2 * REACH;
  float weights[REACH + 1];
  int reach = gaussian(s->sigma, weights), ring = 2 * reach + 1;
  // for each row of the ring: r, g, b, luma, luma blurred across; then e, base, the blurred row and the finer one
  float *all = malloc(sizeof(float) * padded * (ring * 5 + 4));
  if (!all) return -1;
  float *work = all + (size_t)padded * ring * 5;
#define PLANE(row, k) (all + (size_t)padded * (((row) % ring) * 5 + (k)))
  for (int y = 0, drawn = 0; y < height; y++) {
    for (; drawn < height && drawn <= y + reach; drawn++) {
      Row row = {PLANE(drawn, 0), PLANE(drawn, 1), PLANE(drawn, 2), work, work + padded};
      if (tone) tone_row(in, drawn, tone, base, row);
      else plain_row(in, drawn, row);
      float *luma = PLANE(drawn, 3) + REACH;
      luma_row(n, row, luma);
      across(n, weights, reach, luma, PLANE(drawn, 4));
    }
    float *blurred = work + 2 * padded, *add = work + 3 * padded;
    memset(blurred, 0, n * sizeof(float));
    for (int k = -reach; k <= reach; k++) {
      int from = y + k < 0 ? 0 : y + k >= height ? height - 1 : y + k;
      const float *line = PLANE(from, 4);
      float w = weights[k < 0 ? -k : k];
      for (int i = 0; i < n; i++) blurred[i] += w * line[i];
    }
    finer(n, PLANE(y, 3) + REACH, blurred, s, add);
    Row row = {PLANE(y, 0), PLANE(y, 1), PLANE(y, 2), work, work + padded};
    write_row(row, add, in, out, y);
  }
#undef PLANE
  free(all);
  return 0;
}

int bs_finish(const BsPixels *in, BsPixels *out, const BsTone *tone, const BsBase *base, const BsSharpen *sharpen) {
  if (sharpen) return sharpened(in, out, tone, base, sharpen);
  float *all = malloc(sizeof(float) * in->width * 5);
  if (!all) return -1;
  Row row = {all, all + in->width, all + 2 * in->width, all + 3 * in->width, all + 4 * in->width};
  for (int y = 0; y < in->height; y++) {
    if (tone) tone_row(in, y, tone, base, row);
    else plain_row(in, y, row);
    write_row(row, NULL, in, out, y);
  }
  free(all);
  return 0;
}

void bs_widen(const BsPixels *in, BsPixels *out) {
  size_t n = (size_t)in->width * in->height * in->bands;
  const uint8_t *from = in->data;
  uint16_t *to = out->data;
  for (size_t i = 0; i < n; i++) to[i] = (uint16_t)(from[i] * 257);
}

// A red that is half again as strong as the others within a disc is a reflection of the flash: it becomes their mean, softly towards the
// edge of the disc.
void bs_mend_eyes(BsPixels *in, const BsEye *eyes, int n) {
  uint16_t *data = in->data;
  for (int k = 0; k < n; k++) {
    BsEye e = eyes[k];
    int top = (int)(e.y - e.radius), bottom = (int)(e.y + e.radius) + 1, left = (int)(e.x - e.radius), right = (int)(e.x + e.radius) + 1;
    if (top < 0) top = 0;
    if (left < 0) left = 0;
    if (bottom > in->height) bottom = in->height;
    if (right > in->width) right = in->width;
    for (int y = top; y < bottom; y++)
      for (int x = left; x < right; x++) {
        float dx = x + 0.5f - e.x, dy = y + 0.5f - e.y, part = (dx * dx + dy * dy) / (e.radius * e.radius);
        if (part >= 1) continue;
        uint16_t *p = data + ((size_t)y * in->width + x) * in->bands;
        float r = p[0], other = p[1] > p[2] ? p[1] : p[2], mean = (p[1] + p[2]) * 0.5f;
        float much = other > 0 ? (r / other - 1.3f) / 0.4f : r > 0;
        float weight = clamp01(much) * clamp01((1 - part) * 3);
        p[0] = (uint16_t)(r + (mean - r) * weight + 0.5f);
      }
  }
}
