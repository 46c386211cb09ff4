import {
  BufferGeometry,
  Color,
  DoubleSide,
  Float32BufferAttribute,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshLambertMaterial,
  Points,
  PointsMaterial,
  Vector3,
} from "three";
import type { Schemas } from "@/api/client";
import { Turntable } from "./turntable";

const FOAM = new Color("#565c64");
const LIT = new Color("#3f9c94");

/** A solid on a turntable: its foam, its seams and folds, one panel of it lit. */
export class SolidStage extends Turntable {
  private readonly foam = new MeshLambertMaterial({ vertexColors: true, side: DoubleSide, flatShading: false });
  private readonly ink = new LineBasicMaterial({ color: "#d9b779" });
  private readonly dots = new PointsMaterial({ color: "#e2ad4b", size: 12, sizeAttenuation: false, depthTest: false });
  private seam?: Points;
  private mesh?: Mesh;
  private lines?: LineSegments;
  private reach = 0;

  constructor(canvas: HTMLCanvasElement) {
    super(canvas, { view: 28, near: 5, far: 20000 });
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

  /** The place of the solid at a point of the window, mm. */
  pick(x: number, y: number): [number, number, number] | null {
    if (!this.mesh) return null;
    this.aim(x, y);
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

  override dispose() {
    this.clear();
    this.foam.dispose();
    this.ink.dispose();
    super.dispose();
  }

  private look(center: Vector3, radius: number) {
    this.reach = radius;
    this.stand(center, new Vector3(-0.62, -1, 0.55).setLength(radius * 3.9));
  }

  private clear() {
    for (const made of [this.mesh, this.lines])
      if (made) {
        this.scene.remove(made);
        made.geometry.dispose();
      }
  }
}
