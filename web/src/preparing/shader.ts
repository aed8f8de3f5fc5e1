/** What the server's tone pass does (recipe.Tone says the formulas), for the graphics card: with the server's own tables. */
const fragment = `#version 300 es
precision highp float;
precision highp int;
precision highp sampler2D;
uniform sampler2D picture;  // as it is before the tone
uniform sampler2D linear;   // of each of 256 values
uniform sampler2D curve;
uniform sampler2D encode;
uniform sampler2D local;
uniform sampler2D base;     // a and b of each place
uniform mat3 matrix;        // its columns are the rows of the server's
uniform float clarity, vignette, saturation, vibrance, mono;
uniform float mix0, mix1, mix2, mix3, mix4, mix5;
uniform vec3 across, down;  // where a pixel lies in the file
uniform bool usesBase;
out vec4 colour;

float one(sampler2D table, int i) { return texelFetch(table, ivec2(i, 0), 0).r; }

// A table of 64 places in each octave from 2^-12 to 2^4, linear between them and down to 0.
float at(sampler2D table, float x) {
  const float lowest = 1.0 / 4096.0;
  if (x < lowest) {
    float none = one(table, 0);
    return none + (one(table, 1) - none) * (max(x, 0.0) * 4096.0);
  }
  uint u = floatBitsToUint(min(x, 15.99)) - ((127u - 12u) << 23);
  int i = int(u >> 17);
  float f = float(u & 0x1ffffu) / 131072.0;
  float low = one(table, 1 + i);
  return low + (one(table, 2 + i) - low) * f;
}

float baseAt(vec2 pixel, float luminance) {
  ivec2 size = textureSize(base, 0);
  vec2 p = vec2(dot(across, vec3(1.0, pixel)) * float(size.x) - 0.5, dot(down, vec3(1.0, pixel)) * float(size.y) - 0.5);
  p = clamp(p, vec2(0.0), vec2(size - 1));
  ivec2 i = max(min(ivec2(p), size - 2), ivec2(0));
  vec2 f = p - vec2(i);
  ivec2 far = min(i + 1, size - 1);
  vec2 top = mix(texelFetch(base, i, 0).rg, texelFetch(base, ivec2(far.x, i.y), 0).rg, f.x);
  vec2 low = mix(texelFetch(base, ivec2(i.x, far.y), 0).rg, texelFetch(base, far, 0).rg, f.x);
  vec2 ab = mix(top, low, f.y);
  return clamp(ab.r * luminance + ab.g, 0.0, 1.0);
}

float luminanceOf(vec3 c) { return dot(c, vec3(0.2126, 0.7152, 0.0722)); }

void main() {
  ivec2 size = textureSize(picture, 0);
  ivec2 place = ivec2(int(gl_FragCoord.x), size.y - 1 - int(gl_FragCoord.y));
  vec4 from = texelFetch(picture, place, 0);
  vec3 l = vec3(one(linear, int(from.r * 255.0 + 0.5)), one(linear, int(from.g * 255.0 + 0.5)), one(linear, int(from.b * 255.0 + 0.5)));
  float e = 0.0;
  if (usesBase) {
    float ly = at(encode, luminanceOf(l));
    float b = baseAt(vec2(place), ly);
    float p = b * 256.0;
    int k = min(int(p), 255);
    float ev = one(local, k);
    ev += (one(local, k + 1) - ev) * (p - float(k));
    float fine = ly - b;
    fine = fine / (1.0 + fine * fine * 625.0);
    e = ev + clarity * fine * (1.0 - abs(2.0 * b - 1.0) / 2.0);
  }
  vec2 from_middle = vec2(place) + 0.5 - vec2(size) * 0.5;
  float square = dot(from_middle, from_middle) * 4.0 / (float(size.x) * float(size.x) + float(size.y) * float(size.y));
  e += vignette * square * square;
  vec3 v = l * exp2(e) * matrix;
  v = vec3(at(curve, v.r), at(curve, v.g), at(curve, v.b));
  if (mono != 0.0) {
    float most = max(v.r, max(v.g, v.b)), least = min(v.r, min(v.g, v.b)), middle = v.r + v.g + v.b - most - least;
    float first = v.r == most ? mix0 : v.g == most ? mix2 : mix4;
    float second = v.b == least ? mix1 : v.r == least ? mix3 : mix5;
    float y = luminanceOf(v) + 0.5 * ((most - middle) * first + (middle - least) * second);
    v = clamp(v + mono * (y - v), 0.0, 1.0);
  }
  if (saturation != 0.0 || vibrance != 0.0) {
    float most = max(v.r, max(v.g, v.b)), least = min(v.r, min(v.g, v.b));
    float s = most > 0.0 ? (most - least) / most : 0.0;
    float k = max(0.0, 1.0 + saturation + vibrance * (1.0 - s) * (1.0 - s));
    float y = luminanceOf(v);
    v = clamp(y + (v - y) * k, 0.0, 1.0);
  }
  colour = vec4(clamp(v, 0.0, 1.0), from.a);
}`;

const vertex = `#version 300 es
in vec2 corner;
void main() { gl_Position = vec4(corner, 0.0, 1.0); }`;

/** How many numbers the parts of a tone have, in the order in which the server sends them. */
const parts = { places: 6, matrix: 9, amounts: 5, mix: 6, curve: 1026, local: 257, encode: 1026 };

/** Numbers of a tone, as the server sends them. */
export type Tone = Float32Array;

/** A base map, as the server sends it. */
export interface BaseMap {
  width: number;
  height: number;
  places: Float32Array;
}

/** baseMapFrom reads a base map. */
export function baseMapFrom(data: ArrayBuffer): BaseMap {
  const head = new DataView(data);
  return { width: head.getUint32(0, true), height: head.getUint32(4, true), places: new Float32Array(data, 8) };
}

/** The sRGB transfer function (IEC 61966-2-1), of values of 8 bits. */
const linearTable = Float32Array.from({ length: 256 }, (_, i) => {
  const n = i / 255;
  return n <= 0.04045 ? n / 12.92 : Math.pow((n + 0.055) / 1.055, 2.4);
});

const software = /swiftshader|llvmpipe|software/i;

/** A Painter draws one picture with one tone after the other onto a canvas. */
export class Painter {
  private constructor(
    readonly canvas: HTMLCanvasElement,
    private readonly gl: WebGL2RenderingContext,
    private readonly program: WebGLProgram,
  ) {}

  /** on prepares a canvas. Where the browser has no graphics card for it there is none, unless it is asked for all the same. */
  static on(canvas: HTMLCanvasElement, inAnyCase: boolean): Painter | undefined {
    const gl = canvas.getContext("webgl2", { premultipliedAlpha: false, antialias: false, preserveDrawingBuffer: true });
    if (!gl) return undefined;
    const name = gl.getExtension("WEBGL_debug_renderer_info");
    if (!inAnyCase && name && software.test(String(gl.getParameter(name.UNMASKED_RENDERER_WEBGL)))) return undefined;
    const program = gl.createProgram();
    for (const [kind, source] of [
      [gl.VERTEX_SHADER, vertex],
      [gl.FRAGMENT_SHADER, fragment],
    ] as const) {
      const shader = gl.createShader(kind)!;
      gl.shaderSource(shader, source);
      gl.compileShader(shader);
      gl.attachShader(program, shader);
    }
    gl.linkProgram(program);
    if (!gl.getProgramParameter(program, gl.LINK_STATUS)) {
      console.warn("The shader does not work here; the server draws.", gl.getProgramInfoLog(program));
      return undefined;
    }
    gl.useProgram(program);
    gl.bindBuffer(gl.ARRAY_BUFFER, gl.createBuffer());
    gl.bufferData(gl.ARRAY_BUFFER, new Float32Array([-1, -1, 3, -1, -1, 3]), gl.STATIC_DRAW);
    gl.enableVertexAttribArray(gl.getAttribLocation(program, "corner"));
    gl.vertexAttribPointer(gl.getAttribLocation(program, "corner"), 2, gl.FLOAT, false, 0, 0);
    const painter = new Painter(canvas, gl, program);
    painter.floats("linear", linearTable);
    painter.base({ width: 1, height: 1, places: new Float32Array([0, 0.5]) });
    return painter;
  }

  private readonly units = ["picture", "linear", "curve", "encode", "local", "base"];

  private texture(name: string) {
    const { gl } = this;
    const unit = this.units.indexOf(name);
    gl.activeTexture(gl.TEXTURE0 + unit);
    if (!gl.getParameter(gl.TEXTURE_BINDING_2D)) {
      gl.bindTexture(gl.TEXTURE_2D, gl.createTexture());
      for (const what of [gl.TEXTURE_MIN_FILTER, gl.TEXTURE_MAG_FILTER]) gl.texParameteri(gl.TEXTURE_2D, what, gl.NEAREST);
      for (const what of [gl.TEXTURE_WRAP_S, gl.TEXTURE_WRAP_T]) gl.texParameteri(gl.TEXTURE_2D, what, gl.CLAMP_TO_EDGE);
      gl.uniform1i(gl.getUniformLocation(this.program, name), unit);
    }
  }

  private floats(name: string, table: Float32Array) {
    const { gl } = this;
    this.texture(name);
    gl.texImage2D(gl.TEXTURE_2D, 0, gl.R32F, table.length, 1, 0, gl.RED, gl.FLOAT, table);
  }

  /** picture takes the picture that is drawn, before its tone. */
  picture(bitmap: ImageBitmap) {
    const { gl } = this;
    this.canvas.width = bitmap.width;
    this.canvas.height = bitmap.height;
    gl.viewport(0, 0, bitmap.width, bitmap.height);
    this.texture("picture");
    gl.pixelStorei(gl.UNPACK_COLORSPACE_CONVERSION_WEBGL, gl.NONE);
    gl.texImage2D(gl.TEXTURE_2D, 0, gl.RGBA, gl.RGBA, gl.UNSIGNED_BYTE, bitmap);
  }

  base(map: BaseMap) {
    const { gl } = this;
    this.texture("base");
    gl.texImage2D(gl.TEXTURE_2D, 0, gl.RG32F, map.width, map.height, 0, gl.RG, gl.FLOAT, map.places);
  }

  draw(tone: Tone, usesBase: boolean) {
    const { gl, program } = this;
    let from = 0;
    const next = (length: number) => tone.subarray(from, (from += length));
    const places = next(parts.places);
    const matrix = next(parts.matrix);
    const amounts = next(parts.amounts);
    const mix = next(parts.mix);
    const at = (name: string) => gl.getUniformLocation(program, name);
    gl.uniform3fv(at("across"), places.subarray(0, 3));
    gl.uniform3fv(at("down"), places.subarray(3, 6));
    gl.uniformMatrix3fv(at("matrix"), false, matrix);
    ["clarity", "vignette", "saturation", "vibrance", "mono"].forEach((name, i) => gl.uniform1f(at(name), amounts[i]!));
    mix.forEach((n, i) => gl.uniform1f(at(`mix${i}`), n));
    this.floats("curve", next(parts.curve));
    this.floats("local", next(parts.local));
    this.floats("encode", next(parts.encode));
    gl.uniform1i(at("usesBase"), usesBase ? 1 : 0);
    gl.drawArrays(gl.TRIANGLES, 0, 3);
  }
}
