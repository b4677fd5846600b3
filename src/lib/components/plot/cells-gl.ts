import { readColours, type DotBatch } from '$core/plot/cell-colours.ts';
import type { Frames } from '$core/patch/readout.ts';
import { DARK_DOT, dotSize, type CellPainter } from './cells-plain.ts';
import type { Canvas, View } from './view.ts';

const VERTEX = `#version 300 es
in float u; in float v; in vec4 colour;
uniform vec4 place; uniform float size; uniform vec4 dark;
out vec4 ink;
void main() {
  gl_Position = vec4(u * place.x + place.z, v * place.y + place.w, 0.0, 1.0);
  gl_PointSize = size;
  ink = colour.r + colour.g + colour.b == 0.0 ? dark : colour;
}`;
const FRAGMENT = `#version 300 es
precision mediump float;
in vec4 ink; out vec4 shown;
void main() {
  float edge = 1.0 - smoothstep(0.75, 1.0, length(gl_PointCoord * 2.0 - 1.0));
  shown = vec4(ink.rgb * edge, edge);
}`;

interface Uploaded {
  readonly array: WebGLVertexArrayObject;
  readonly buffers: readonly WebGLBuffer[];
}

/** Round dots as points of WebGL 2, for machines with a GPU. */
export class GlPainter implements CellPainter {
  readonly #gl: WebGL2RenderingContext;
  readonly #program: WebGLProgram;
  readonly #uniforms: Readonly<Record<'place' | 'size' | 'dark', WebGLUniformLocation | null>>;
  readonly #uploaded = new Map<DotBatch, Uploaded>();

  /** Null where the browser has no WebGL 2. */
  static on(canvas: HTMLCanvasElement): GlPainter | null {
    const gl = canvas.getContext('webgl2', { premultipliedAlpha: true, antialias: false });
    return gl && new GlPainter(gl);
  }

  private constructor(gl: WebGL2RenderingContext) {
    this.#gl = gl;
    const program = gl.createProgram();
    for (const [type, source] of [
      [gl.VERTEX_SHADER, VERTEX],
      [gl.FRAGMENT_SHADER, FRAGMENT],
    ] as const) {
      const shader = gl.createShader(type)!;
      gl.shaderSource(shader, source);
      gl.compileShader(shader);
      gl.attachShader(program, shader);
    }
    gl.linkProgram(program);
    if (!gl.getProgramParameter(program, gl.LINK_STATUS))
      throw new Error(`the shaders of the plot do not link: ${gl.getProgramInfoLog(program) ?? ''}`);
    this.#program = program;
    const at = (name: string) => gl.getUniformLocation(program, name);
    this.#uniforms = { place: at('place'), size: at('size'), dark: at('dark') };
    gl.enable(gl.BLEND);
    gl.blendFunc(gl.ONE, gl.ONE_MINUS_SRC_ALPHA);
  }

  paint(batches: readonly DotBatch[], frames: Frames, view: View, size: Canvas, ratio: number): void {
    const gl = this.#gl;
    gl.viewport(0, 0, Math.round(size.width * ratio), Math.round(size.height * ratio));
    gl.clearColor(0, 0, 0, 0);
    gl.clear(gl.COLOR_BUFFER_BIT);
    gl.useProgram(this.#program);
    const [sx, sy] = [(2 * view.scale) / size.width, (2 * view.scale) / size.height];
    const { place, size: across, dark } = this.#uniforms;
    gl.uniform4f(place, sx, sy, -view.x * sx, -view.y * sy);
    gl.uniform4f(dark, (DARK_DOT & 255) / 255, ((DARK_DOT >> 8) & 255) / 255, ((DARK_DOT >> 16) & 255) / 255, 1);
    for (const old of this.#uploaded.keys()) if (!batches.includes(old)) this.#drop(old);
    for (const batch of batches) {
      if (batch.count === 0) continue;
      gl.uniform1f(across, Math.max(2, dotSize(view.scale, batch.dotM) * ratio));
      const { array, buffers } = this.#upload(batch);
      gl.bindVertexArray(array);
      gl.bindBuffer(gl.ARRAY_BUFFER, buffers[2]!);
      gl.bufferSubData(gl.ARRAY_BUFFER, 0, readColours(batch, frames));
      gl.drawArrays(gl.POINTS, 0, batch.count);
    }
  }

  #upload(batch: DotBatch): Uploaded {
    const known = this.#uploaded.get(batch);
    if (known) return known;
    const gl = this.#gl;
    const array = gl.createVertexArray();
    gl.bindVertexArray(array);
    const buffers = [batch.u, batch.v, batch.colours].map((data, i) => {
      const buffer = gl.createBuffer();
      gl.bindBuffer(gl.ARRAY_BUFFER, buffer);
      gl.bufferData(gl.ARRAY_BUFFER, data, i < 2 ? gl.STATIC_DRAW : gl.STREAM_DRAW);
      const place = gl.getAttribLocation(this.#program, ['u', 'v', 'colour'][i]!);
      gl.enableVertexAttribArray(place);
      if (i < 2) gl.vertexAttribPointer(place, 1, gl.FLOAT, false, 0, 0);
      else gl.vertexAttribPointer(place, 4, gl.UNSIGNED_BYTE, true, 0, 0);
      return buffer;
    });
    const made = { array, buffers };
    this.#uploaded.set(batch, made);
    return made;
  }

  #drop(batch: DotBatch): void {
    const { array, buffers } = this.#uploaded.get(batch)!;
    this.#gl.deleteVertexArray(array);
    for (const buffer of buffers) this.#gl.deleteBuffer(buffer);
    this.#uploaded.delete(batch);
  }

  dispose(): void {
    for (const batch of [...this.#uploaded.keys()]) this.#drop(batch);
    this.#gl.getExtension('WEBGL_lose_context')?.loseContext();
  }
}

let gpu: boolean | null = null;

/** True where WebGL 2 is drawn by a GPU and not in software, which is slower here than plain pixels. Found out once. */
export const hasGpu = (): boolean => (gpu ??= findGpu());

function findGpu(): boolean {
  const gl = document.createElement('canvas').getContext('webgl2');
  if (!gl) return false;
  const info = gl.getExtension('WEBGL_debug_renderer_info');
  const name = String(gl.getParameter(info ? info.UNMASKED_RENDERER_WEBGL : gl.RENDERER));
  gl.getExtension('WEBGL_lose_context')?.loseContext();
  return !/swiftshader|llvmpipe|software|basic render/i.test(name);
}
