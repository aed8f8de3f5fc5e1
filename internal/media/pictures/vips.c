#include "vips.h"

// Loaders that parse formats nobody brings in here, or that hand files to other libraries with a wide surface.
static const char *blocked[] = {
    "VipsForeignLoadMagick", "VipsForeignLoadOpenslide", "VipsForeignLoadFits", "VipsForeignLoadOpenexr",
    "VipsForeignLoadMat",    "VipsForeignLoadAnalyze",   "VipsForeignLoadCsv",  "VipsForeignLoadVips",
    "VipsForeignLoadPpm",    "VipsForeignLoadRad",       "VipsForeignLoadMatrix", "VipsForeignLoadRaw", NULL};

int bs_init(void) {
  if (VIPS_INIT("bright-satchel")) return -1;
  for (int i = 0; blocked[i]; i++) vips_operation_block_set(blocked[i], TRUE);
  vips_concurrency_set(1);
  vips_cache_set_max(0);
  return 0;
}

int bs_header(const char *path, int from_memory, VipsImage **out) {
  if (!from_memory) return (*out = vips_image_new_from_file(path, NULL)) ? 0 : -1;
  VipsSource *source = vips_source_new_from_file(path);
  if (!source) return -1;
  *out = vips_image_new_from_source(source, "", NULL);
  g_object_unref(source);
  return *out ? 0 : -1;
}

// to_srgb is the profile to convert into, or NULL for what is sRGB already. A file without a profile is sRGB; taken through Lab all the
// same, as libvips does when it is asked to, its shadows would close up.
static const char *to_srgb(VipsImage *head) {
  return vips_image_get_typeof(head, VIPS_META_ICC_NAME) || head->Type == VIPS_INTERPRETATION_CMYK ? "srgb" : NULL;
}

int bs_thumbnail(const char *path, int width, int height, VipsImage **out) {
  VipsImage *head = vips_image_new_from_file(path, NULL);
  if (!head) return -1;
  const char *profile = to_srgb(head);
  g_object_unref(head);
  return vips_thumbnail(path, out, width, "height", height, "size", VIPS_SIZE_FORCE, "export_profile", profile,
                        "fail_on", VIPS_FAIL_ON_ERROR, NULL);
}

int bs_thumbnail_memory(void *data, size_t size, int width, int height, VipsImage **out) {
  return vips_thumbnail_buffer(data, size, out, width, "height", height, "size", VIPS_SIZE_FORCE, "fail_on",
                               VIPS_FAIL_ON_ERROR, NULL);
}

int bs_shrink(VipsImage *in, int width, int height, VipsImage **out) {
  return vips_thumbnail_image(in, out, width, "height", height, "size", VIPS_SIZE_FORCE, NULL);
}

int bs_crop(VipsImage *in, int x, int y, int width, int height, VipsImage **out) {
  return vips_extract_area(in, out, x, y, width, height, NULL);
}

int bs_turn(VipsImage *in, int degrees, VipsImage **out) {
  VipsAngle angle = degrees == 90 ? VIPS_ANGLE_D90 : degrees == 180 ? VIPS_ANGLE_D180 : VIPS_ANGLE_D270;
  return vips_rot(in, out, angle, NULL);
}

int bs_flip(VipsImage *in, VipsImage **out) { return vips_flip(in, out, VIPS_DIRECTION_HORIZONTAL, NULL); }

// Three bands of sRGB in 8 bits, or four with transparency, whatever it was.
int bs_srgb(VipsImage *in, VipsImage **out) {
  VipsImage *space = NULL, *bytes = NULL;
  int failed = vips_colourspace(in, &space, VIPS_INTERPRETATION_sRGB, NULL) || vips_cast(space, &bytes, VIPS_FORMAT_UCHAR, NULL);
  if (!failed) failed = bytes->Bands > 4 ? vips_extract_band(bytes, out, 0, "n", 4, NULL) : vips_copy(bytes, out, NULL);
  if (space) g_object_unref(space);
  if (bytes) g_object_unref(bytes);
  return failed ? -1 : 0;
}

int bs_from_memory(void *data, int width, int height, int bands, int bits, VipsImage **out) {
  *out = vips_image_new_from_memory_copy(data, (size_t)width * height * bands * (bits / 8), width, height, bands,
                                         bits == 8 ? VIPS_FORMAT_UCHAR : VIPS_FORMAT_USHORT);
  if (!*out) return -1;
  (*out)->Type = bits == 8 ? VIPS_INTERPRETATION_sRGB : VIPS_INTERPRETATION_RGB16;
  return 0;
}

// A turn by an angle with this sine and cosine, clockwise about the middle, of which a part is taken: from left and top, in pixels from
// the middle of the turned picture.
int bs_rotate(VipsImage *in, double sine, double cosine, double left, double top, int width, int height, VipsImage **out) {
  VipsArrayInt *area = vips_array_int_newv(4, 0, 0, width, height);
  VipsInterpolate *bicubic = vips_interpolate_new("bicubic");
  int failed = !bicubic || vips_affine(in, out, cosine, -sine, sine, cosine, "oarea", area, "interpolate", bicubic, "idx",
                                       0.5 - in->Xsize / 2.0, "idy", 0.5 - in->Ysize / 2.0, "odx", -left - 0.5, "ody", -top - 0.5,
                                       "extend", VIPS_EXTEND_COPY, NULL);
  if (bicubic) g_object_unref(bicubic);
  vips_area_unref(VIPS_AREA(area));
  return failed ? -1 : 0;
}

int bs_resize(VipsImage *in, int width, int height, VipsImage **out) {
  return vips_resize(in, out, (double)width / in->Xsize, "vscale", (double)height / in->Ysize, NULL);
}

int bs_pixels(VipsImage *in, int width, int height, int colour, void **data, size_t *size) {
  VipsImage *flat = NULL, *small = NULL, *space = NULL, *bytes = NULL;
  int failed = bs_flatten(in, &flat) || bs_shrink(flat, width, height, &small) ||
               vips_colourspace(small, &space, colour ? VIPS_INTERPRETATION_sRGB : VIPS_INTERPRETATION_B_W, NULL) ||
               vips_cast(space, &bytes, VIPS_FORMAT_UCHAR, NULL) || !(*data = vips_image_write_to_memory(bytes, size));
  if (flat) g_object_unref(flat);
  if (small) g_object_unref(small);
  if (space) g_object_unref(space);
  if (bytes) g_object_unref(bytes);
  return failed ? -1 : 0;
}

int bs_attention(VipsImage *in, int width, int height, VipsImage **out) {
  return vips_smartcrop(in, out, width, height, "interesting", VIPS_INTERESTING_ATTENTION, NULL);
}

int bs_flatten(VipsImage *in, VipsImage **out) {
  if (!vips_image_hasalpha(in)) return vips_copy(in, out, NULL);
  VipsArrayDouble *white = vips_array_double_newv(3, 255.0, 255.0, 255.0);
  int failed = vips_flatten(in, out, "background", white, NULL);
  vips_area_unref(VIPS_AREA(white));
  return failed;
}

// A picture in the middle of a larger one of a colour. What was transparent stays so.
int bs_pad(VipsImage *in, int width, int height, const double rgb[3], VipsImage **out) {
  VipsImage *plain = NULL;
  if (bs_srgb(in, &plain)) return -1;
  VipsArrayDouble *colour = plain->Bands == 4 ? vips_array_double_newv(4, rgb[0], rgb[1], rgb[2], 255.0)
                                              : vips_array_double_newv(3, rgb[0], rgb[1], rgb[2]);
  int failed = vips_embed(plain, out, (width - plain->Xsize) / 2, (height - plain->Ysize) / 2, width, height, "extend",
                          VIPS_EXTEND_BACKGROUND, "background", colour, NULL);
  vips_area_unref(VIPS_AREA(colour));
  g_object_unref(plain);
  return failed;
}

int bs_copy_memory(VipsImage *in, VipsImage **out) { return (*out = vips_image_copy_memory(in)) ? 0 : -1; }

int bs_average(VipsImage *in, double rgb[3]) {
  VipsImage *one, *srgb, *flat;
  if (vips_thumbnail_image(in, &one, 1, "height", 1, "size", VIPS_SIZE_FORCE, NULL)) return -1;
  int failed = vips_colourspace(one, &srgb, VIPS_INTERPRETATION_sRGB, NULL);
  g_object_unref(one);
  if (failed) return -1;
  failed = bs_flatten(srgb, &flat);
  g_object_unref(srgb);
  if (failed) return -1;
  double *point;
  int n;
  failed = vips_getpoint(flat, &point, &n, 0, 0, NULL);
  if (!failed) {
    for (int i = 0; i < 3; i++) rgb[i] = point[n >= 3 ? i : 0];
    g_free(point);
  }
  g_object_unref(flat);
  return failed;
}

// bare is a picture without anything that its file said but its colour profile. Stripping is left to no writer: that of WebP in
// libvips 8.14 writes EXIF and XMP all the same, also from the single values that were read of them.
static int bare(VipsImage *in, VipsImage **out) {
  static const char *const said[] = {"exif-", "xmp-", "iptc-", "photoshop-"};
  if (vips_copy(in, out, NULL)) return -1;
  char **fields = vips_image_get_fields(*out);
  for (char **field = fields; *field; field++)
    for (size_t i = 0; i < sizeof said / sizeof *said; i++)
      if (g_str_has_prefix(*field, said[i])) vips_image_remove(*out, *field);
  g_strfreev(fields);
  return 0;
}

int bs_save_jpeg(VipsImage *in, const char *path, int quality, int optimise) {
  VipsImage *plain;
  if (bare(in, &plain)) return -1;
  int failed = vips_jpegsave(plain, path, "Q", quality, "optimize_coding", optimise, "strip", TRUE, NULL);
  g_object_unref(plain);
  return failed;
}

int bs_save_png(VipsImage *in, const char *path) {
  VipsImage *plain;
  if (bare(in, &plain)) return -1;
  int failed = vips_pngsave(plain, path, "compression", 6, "strip", TRUE, NULL);
  g_object_unref(plain);
  return failed;
}

int bs_save_webp(VipsImage *in, const char *path, int quality) {
  VipsImage *plain;
  if (bare(in, &plain)) return -1;
  int failed = vips_webpsave(plain, path, "Q", quality, "effort", 2, "strip", TRUE, NULL);
  g_object_unref(plain);
  return failed;
}

// Effort 2 costs about as much as a WebP; the default costs ten times that for a few per cent of size.
int bs_save_avif(VipsImage *in, const char *path, int quality) {
  VipsImage *plain;
  if (bare(in, &plain)) return -1;
  int failed = vips_heifsave(plain, path, "Q", quality, "compression", VIPS_FOREIGN_HEIF_COMPRESSION_AV1, "effort", 2,
                             "strip", TRUE, NULL);
  g_object_unref(plain);
  return failed;
}
