import {
  BufferGeometry,
  Color,
  DirectionalLight,
  DoubleSide,
  Float32BufferAttribute,
  HemisphereLight,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshLambertMaterial,
  PerspectiveCamera,
  Points,
  PointsMaterial,
  Raycaster,
  Scene,
  Vector2,
  Vector3,
  WebGLRenderer,
} from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";
import type { Schemas } from "@/api/client";

const FOAM = new Color("#565c64");
const LIT = new Color("#3f9c94");

/** A solid on a turntable: its foam, its seams and folds, one panel of it lit. */
export class SolidStage {
  private readonly scene = new Scene();
  private readonly camera = new PerspectiveCamera(28, 1, 5, 20000);
  private readonly renderer: WebGLRenderer;
  private readonly controls: OrbitControls;
  private readonly foam = new MeshLambertMaterial({ vertexColors: true, side: DoubleSide, flatShading: false });
  private readonly ink = new LineBasicMaterial({ color: "#d9b779" });
  private readonly dots = new PointsMaterial({ color: "#e2ad4b", size: 12, sizeAttenuation: false, depthTest: false });
  private readonly ray = new Raycaster();
  private seam?: Points;
  private mesh?: Mesh;
  private lines?: LineSegments;
  private reach = 0;
  private frame = 0;

  constructor(canvas: HTMLCanvasElement) {
    this.renderer = new WebGLRenderer({ canvas, antialias: true, alpha: true });
    this.renderer.setPixelRatio(Math.min(window.devicePixelRatio, 2));
    this.camera.up.set(0, 0, 1);
    this.scene.add(new HemisphereLight("#fffaf0", "#9a8560", 2.6));
    const sun = new DirectionalLight("#fff4dc", 2.6);
    sun.position.set(-500, -800, 900);
    this.scene.add(sun);
    this.controls = new OrbitControls(this.camera, canvas);
    this.controls.addEventListener("change", () => this.draw());
  }

  /** lit: number of the panel that is looked at. */
  show(solid: Schemas["SolidOut"], lit: number) {
    this.clear();
    const geometry = new BufferGeometry();
    const places = solid.triangles.flatMap((v) => solid.positions.slice(3 * v, 3 * v + 3));
    geometry.setAttribute("position", new Float32BufferAttribute(places, 3));
    const colours = solid.parts.flatMap((p) => {
      const c = p && p === lit ? LIT : FOAM;
      return [c.r, c.g, c.b, c.r, c.g, c.b, c.r, c.g, c.b];
    });
    geometry.setAttribute("color", new Float32BufferAttribute(colours, 3));
    geometry.computeVertexNormals();
    this.mesh = new Mesh(geometry, this.foam);
    const seams = new BufferGeometry();
    seams.setAttribute("position", new Float32BufferAttribute(solid.edges, 3));
    this.lines = new LineSegments(seams, this.ink);
    this.scene.add(this.mesh, this.lines);
    geometry.computeBoundingSphere();
    const { center, radius } = geometry.boundingSphere!;
    if (Math.abs(radius - this.reach) > this.reach * 0.25) this.look(center, radius);
    else this.controls.target.copy(center);
    this.draw();
  }

  resize(width: number, height: number) {
    if (!width || !height) return;
    this.renderer.setSize(width, height, false);
    this.camera.aspect = width / height;
    this.camera.updateProjectionMatrix();
    this.draw();
  }

  /** The place of the solid at a point of the window, mm. */
  pick(x: number, y: number): [number, number, number] | null {
    if (!this.mesh) return null;
    const box = this.renderer.domElement.getBoundingClientRect();
    const at = new Vector2(((x - box.left) / box.width) * 2 - 1, 1 - ((y - box.top) / box.height) * 2);
    this.ray.setFromCamera(at, this.camera);
    const hit = this.ray.intersectObject(this.mesh)[0];
    return hit ? [hit.point.x, hit.point.y, hit.point.z] : null;
  }

  /** Places of a seam that is being drawn. */
  showSeam(points: readonly (readonly number[])[]) {
    if (this.seam) {
      this.scene.remove(this.seam);
      this.seam.geometry.dispose();
      this.seam = undefined;
    }
    if (points.length) {
      const geometry = new BufferGeometry();
      geometry.setAttribute("position", new Float32BufferAttribute(points.flat(), 3));
      this.seam = new Points(geometry, this.dots);
      this.scene.add(this.seam);
    }
    this.draw();
  }

  dispose() {
    cancelAnimationFrame(this.frame);
    this.clear();
    this.controls.dispose();
    this.foam.dispose();
    this.ink.dispose();
    this.renderer.dispose();
  }

  private look(center: Vector3, radius: number) {
    this.reach = radius;
    this.controls.target.copy(center);
    const way = new Vector3(-0.62, -1, 0.55).normalize();
    this.camera.position.copy(center).addScaledVector(way, radius * 3.9);
    this.controls.update();
  }

  private clear() {
    for (const made of [this.mesh, this.lines])
      if (made) {
        this.scene.remove(made);
        made.geometry.dispose();
      }
  }

  private draw() {
    cancelAnimationFrame(this.frame);
    this.frame = requestAnimationFrame(() => this.renderer.render(this.scene, this.camera));
  }
}
