// Words or a picture across a picture, for those who may look and not take.
#include <vips/vips.h>

#include "vips.h"

// placed puts a mask of letters onto an empty one of a size, so many pixels from the left and the top.
static int placed(VipsImage *letters, int left, int top, int width, int height, VipsImage **out) {
  return vips_embed(letters, out, left, top, width, height, "extend", VIPS_EXTEND_BLACK, NULL);
}

// across repeats a mask in slanted lines until it covers a size.
static int across(VipsImage *letters, int width, int height, VipsImage **out) {
  VipsImage *t[4] = {NULL, NULL, NULL, NULL};
  int reach = width + height;
  int wide = letters->Xsize * 3 / 2, high = letters->Ysize * 5;
  int failed = placed(letters, wide / 8, high / 3, wide, high, &t[0]) ||
               vips_replicate(t[0], &t[1], reach / wide + 2, reach / high + 2, NULL) ||
               vips_rotate(t[1], &t[2], -30.0, NULL) ||
               vips_crop(t[2], out, (t[2]->Xsize - width) / 2, (t[2]->Ysize - height) / 2, width, height, NULL);
  for (int i = 0; i < 3; i++)
    if (t[i]) g_object_unref(t[i]);
  return failed ? -1 : 0;
}

// shade lays one grey over a picture where a mask is, so strongly.
static int shade(VipsImage *in, VipsImage *mask, double strength, double grey, VipsImage **out) {
  VipsImage *weak = NULL, *colour = NULL;
  double values[4] = {grey, grey, grey, 255};
  int failed = vips_linear1(mask, &weak, strength, 0, "uchar", TRUE, NULL) ||
               !(colour = vips_image_new_from_image(in, values, in->Bands)) ||
               vips_ifthenelse(weak, colour, in, out, "blend", TRUE, NULL);
  if (weak) g_object_unref(weak);
  if (colour) g_object_unref(colour);
  return failed ? -1 : 0;
}

int bs_mark(VipsImage *in, const char *words, int place, double strength, VipsImage **out) {
  VipsImage *plain = NULL, *letters = NULL, *mask = NULL, *below = NULL, *shaded = NULL;
  if (bs_srgb(in, &plain)) return -1;
  int width = plain->Xsize, height = plain->Ysize;
  if (width < 48 || height < 48) { // nobody takes that, and no letter fits
    *out = plain;
    return 0;
  }
  double share = place == BS_MIDDLE ? 0.7 : 0.25;
  int most_wide = VIPS_MAX(8, (int)(width * share)), most_high = VIPS_MAX(8, (int)(height * (place == BS_MIDDLE ? 0.25 : 0.06)));
  const char *font = "DejaVu Sans Bold";
  // Letters that the font does not have leave nothing to draw; a picture that should be marked never goes out without.
  int failed = vips_text(&letters, words, "font", font, "width", most_wide, "height", most_high, NULL) &&
               vips_text(&letters, "PROOF", "font", font, "width", most_wide, "height", most_high, NULL);
  if (!failed) {
    int edge = VIPS_MAX(2, VIPS_MIN(width, height) / 40);
    int left = place == BS_MIDDLE ? (width - letters->Xsize) / 2 : width - letters->Xsize - edge;
    int top = place == BS_MIDDLE ? (height - letters->Ysize) / 2 : height - letters->Ysize - edge;
    int off = VIPS_MAX(1, letters->Ysize / 30); // a shadow, so that it is seen on white
    if (place == BS_ACROSS)
      failed = across(letters, width, height, &mask) || vips_embed(mask, &below, off, off, width, height, NULL);
    else
      failed = placed(letters, VIPS_MAX(0, left), VIPS_MAX(0, top), width, height, &mask) ||
               placed(letters, VIPS_MAX(0, left) + off, VIPS_MAX(0, top) + off, width, height, &below);
  }
  failed = failed || shade(plain, below, strength * 0.7, 0, &shaded) || shade(shaded, mask, strength, 255, out);
  VipsImage *all[] = {plain, letters, mask, below, shaded};
  for (int i = 0; i < 5; i++)
    if (all[i]) g_object_unref(all[i]);
  return failed ? -1 : 0;
}

// laid puts a mark with alpha onto a clear ground of a size, by its place.
static int laid(VipsImage *mark, int place, int width, int height, VipsImage **out) {
  int edge = VIPS_MAX(2, VIPS_MIN(width, height) / 40);
  if (place != BS_ACROSS) {
    int left = place == BS_MIDDLE ? (width - mark->Xsize) / 2 : width - mark->Xsize - edge;
    int top = place == BS_MIDDLE ? (height - mark->Ysize) / 2 : height - mark->Ysize - edge;
    return placed(mark, VIPS_MAX(0, left), VIPS_MAX(0, top), width, height, out);
  }
  VipsImage *t[2] = {NULL, NULL};
  int wide = mark->Xsize * 3 / 2, high = mark->Ysize * 2;
  int failed = placed(mark, wide / 6, high / 4, wide, high, &t[0]) ||
               vips_replicate(t[0], &t[1], width / wide + 1, height / high + 1, NULL) ||
               vips_crop(t[1], out, 0, 0, width, height, NULL);
  for (int i = 0; i < 2; i++)
    if (t[i]) g_object_unref(t[i]);
  return failed ? -1 : 0;
}

int bs_mark_picture(VipsImage *in, const char *path, int place, double strength, VipsImage **out) {
  VipsImage *plain = NULL, *t[7] = {NULL, NULL, NULL, NULL, NULL, NULL, NULL};
  if (bs_srgb(in, &plain)) return -1;
  int width = plain->Xsize, height = plain->Ysize;
  if (width < 48 || height < 48) { // nobody takes that, and nothing is seen of it
    *out = plain;
    return 0;
  }
  double share = place == BS_MIDDLE ? 0.5 : 0.2;
  double weak[4] = {1, 1, 1, strength}, none[4] = {0, 0, 0, 0};
  int failed = vips_thumbnail(path, &t[0], VIPS_MAX(8, (int)(width * share)), "height", VIPS_MAX(8, (int)(height * share)), NULL) ||
               bs_srgb(t[0], &t[1]);
  if (!failed && !vips_image_hasalpha(t[1]))
    failed = vips_addalpha(t[1], &t[2], NULL);
  else if (!failed)
    g_object_ref(t[2] = t[1]);
  failed = failed || vips_linear(t[2], &t[3], weak, none, 4, "uchar", TRUE, NULL) ||
           vips_copy(t[3], &t[4], "interpretation", VIPS_INTERPRETATION_sRGB, NULL) || laid(t[4], place, width, height, &t[5]) ||
           vips_composite2(plain, t[5], &t[6], VIPS_BLEND_MODE_OVER, NULL);
  if (!failed) {
    VipsImage *opaque = NULL;
    if (vips_image_hasalpha(plain))
      g_object_ref(opaque = t[6]);
    else
      failed = vips_extract_band(t[6], &opaque, 0, "n", 3, NULL);
    failed = failed || vips_cast(opaque, out, VIPS_FORMAT_UCHAR, NULL);
    if (opaque) g_object_unref(opaque);
  }
  for (int i = 0; i < 7; i++)
    if (t[i]) g_object_unref(t[i]);
  g_object_unref(plain);
  return failed ? -1 : 0;
}
