import {
  BufferGeometry,
  DirectionalLight,
  Float32BufferAttribute,
  HemisphereLight,
  PerspectiveCamera,
  Raycaster,
  Scene,
  Vector2,
  Vector3,
  WebGLRenderer,
  type WebGLRendererParameters,
} from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";

// Pixels drawn to one on the screen.
const SHARP = Math.min(window.devicePixelRatio, 2);
// The same for what is still, where edges are not smoothed.
export const STILL = Math.max(1.5, SHARP);
const UP = new Vector3(0, 0, 1);

// View: degrees up and down. Near, far: what is drawn, mm.
interface Look {
  view: number;
  near: number;
  far: number;
  draws?: WebGLRendererParameters;
}

/** What every stage stands on: a scene in a workroom's light, and a camera that is turned round it. It is drawn when
 * something changed, and never between. */
export abstract class Turntable {
  protected readonly scene = new Scene();
  protected readonly camera: PerspectiveCamera;
  protected readonly renderer: WebGLRenderer;
  protected readonly controls: OrbitControls;
  protected readonly ray = new Raycaster();
  protected frame = 0;

  constructor(
    protected readonly canvas: HTMLCanvasElement,
    { view, near, far, draws = { canvas, antialias: true } }: Look,
  ) {
    this.camera = new PerspectiveCamera(view, 1, near, far);
    this.camera.up.copy(UP);
    this.renderer = new WebGLRenderer({ alpha: true, ...draws });
    this.renderer.setPixelRatio(SHARP);
    const sun = new DirectionalLight("#fff4dc", 2.4);
    sun.position.set(-500, -850, 900);
    this.scene.add(new HemisphereLight("#fffaf0", "#9a8560", 2.4), sun);
    this.controls = new OrbitControls(this.camera, canvas);
    this.controls.addEventListener("change", () => this.turned());
  }

  turn(radians: number) {
    this.stand(this.controls.target, this.away().applyAxisAngle(UP, radians));
  }

  zoom(factor: number) {
    this.stand(this.controls.target, this.away().multiplyScalar(factor));
  }

  /** The pointer drags something: it does not turn. */
  hold(on: boolean) {
    this.controls.enabled = !on;
  }

  resize(width: number, height: number) {
    if (!width || !height) return;
    this.renderer.setSize(width, height, false);
    this.camera.aspect = width / height;
    this.camera.updateProjectionMatrix();
    this.sized?.(width, height);
    this.draw();
  }

  dispose() {
    cancelAnimationFrame(this.frame);
    this.controls.dispose();
    this.renderer.dispose();
  }

  /** The room has another shape. */
  protected sized?(width: number, height: number): void;

  /** It was turned, or come nearer to. */
  protected turned() {
    this.draw();
  }

  /** Look at a place from so far beside it. */
  protected stand(at: Vector3, away: Vector3) {
    this.controls.target.copy(at);
    this.camera.position.copy(at).add(away);
    this.controls.update();
    this.turned();
  }

  private away = () => this.camera.position.clone().sub(this.controls.target);

  /** The ray goes through a point of the window. */
  protected aim(x: number, y: number) {
    const box = this.canvas.getBoundingClientRect();
    const at = new Vector2(((x - box.left) / box.width) * 2 - 1, 1 - ((y - box.top) / box.height) * 2);
    this.ray.setFromCamera(at, this.camera);
  }

  protected draw() {
    cancelAnimationFrame(this.frame);
    this.frame = requestAnimationFrame(() => this.render());
  }

  protected render() {
    this.renderer.render(this.scene, this.camera);
  }
}

/** A surface of triangles with smooth light on it. */
export function surface(positions: number[], triangles: number[], uv?: number[]): BufferGeometry {
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new Float32BufferAttribute(positions, 3));
  if (uv) geometry.setAttribute("uv", new Float32BufferAttribute(uv, 2));
  geometry.setIndex(triangles);
  geometry.computeVertexNormals();
  return geometry;
}
