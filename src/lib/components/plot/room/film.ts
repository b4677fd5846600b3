import {
  BufferAttribute,
  BufferGeometry,
  HalfFloatType,
  Mesh,
  OrthographicCamera,
  Scene,
  ShaderMaterial,
  UnsignedByteType,
  WebGLRenderTarget,
  type Camera,
  type IUniform,
  type WebGLRenderer,
} from 'three';
import { EXPOSE_FRAGMENT, EXPOSE_VERTEX } from './shaders.ts';
import { drop } from './shapes.ts';

/**
 * Where light is added up before it is exposed, so that sixteen beams on one wall keep their colour. A browser that draws
 * into no numbers with a point cuts strong light off instead.
 */
export class Film {
  readonly #target: WebGLRenderTarget;
  readonly #scene = new Scene();
  readonly #camera = new OrthographicCamera();
  readonly #sheet: Mesh;

  constructor(renderer: WebGLRenderer, exposure: IUniform<number>) {
    const floats =
      renderer.extensions.has('EXT_color_buffer_float') || renderer.extensions.has('EXT_color_buffer_half_float');
    this.#target = new WebGLRenderTarget(1, 1, { type: floats ? HalfFloatType : UnsignedByteType });
    // One triangle over the whole picture.
    const corners = new BufferAttribute(new Float32Array([-1, -1, 0, 3, -1, 0, -1, 3, 0]), 3);
    this.#sheet = new Mesh(
      new BufferGeometry().setAttribute('position', corners),
      new ShaderMaterial({
        vertexShader: EXPOSE_VERTEX,
        fragmentShader: EXPOSE_FRAGMENT,
        uniforms: { light: { value: this.#target.texture }, exposure },
        depthTest: false,
        depthWrite: false,
      }),
    );
    this.#sheet.frustumCulled = false;
    this.#scene.add(this.#sheet);
  }

  resize(width: number, height: number): void {
    this.#target.setSize(Math.max(1, Math.floor(width)), Math.max(1, Math.floor(height)));
  }

  /** Draws a scene into the renderer's picture. */
  take(renderer: WebGLRenderer, scene: Scene, camera: Camera): void {
    renderer.setRenderTarget(this.#target);
    renderer.render(scene, camera);
    renderer.setRenderTarget(null);
    renderer.render(this.#scene, this.#camera);
  }

  dispose(): void {
    drop(this.#sheet);
    this.#target.dispose();
  }
}
