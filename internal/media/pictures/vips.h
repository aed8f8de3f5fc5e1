// Typed calls of the libvips operations that we use. A missing argument is a compile error here, where calling
// operations by name would crash at run time. Each returns 0, or -1 with the reason in vips_error_buffer.
#include <vips/vips.h>

int bs_init(void);
int bs_header(const char *path, int from_memory, VipsImage **out);
int bs_thumbnail(const char *path, int width, int height, VipsImage **out);
int bs_thumbnail_memory(void *data, size_t size, int width, int height, VipsImage **out);
int bs_shrink(VipsImage *in, int width, int height, VipsImage **out);
int bs_crop(VipsImage *in, int x, int y, int width, int height, VipsImage **out);
int bs_turn(VipsImage *in, int degrees, VipsImage **out);
int bs_flip(VipsImage *in, VipsImage **out);
int bs_srgb(VipsImage *in, VipsImage **out);
int bs_from_memory(void *data, int width, int height, int bands, int bits, VipsImage **out);
int bs_rotate(VipsImage *in, double sine, double cosine, double left, double top, int width, int height, VipsImage **out);
int bs_resize(VipsImage *in, int width, int height, VipsImage **out);
int bs_pixels(VipsImage *in, int width, int height, int colour, void **data, size_t *size);
int bs_attention(VipsImage *in, int width, int height, VipsImage **out);
int bs_flatten(VipsImage *in, VipsImage **out);
int bs_copy_memory(VipsImage *in, VipsImage **out);
int bs_pad(VipsImage *in, int width, int height, const double rgb[3], VipsImage **out);
// Where words across a picture are.
enum { BS_MIDDLE, BS_ACROSS, BS_CORNER };
// Words, as Pango markup, across a picture; strength from 0 to 1.
int bs_mark(VipsImage *in, const char *words, int place, double strength, VipsImage **out);
int bs_mark_picture(VipsImage *in, const char *path, int place, double strength, VipsImage **out);
int bs_average(VipsImage *in, double rgb[3]);
int bs_save_jpeg(VipsImage *in, const char *path, int quality, int optimise);
int bs_save_png(VipsImage *in, const char *path);
int bs_save_webp(VipsImage *in, const char *path, int quality);
int bs_save_avif(VipsImage *in, const char *path, int quality);
