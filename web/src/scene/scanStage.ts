import {
  ArrowHelper,
  BufferGeometry,
  DoubleSide,
  Float32BufferAttribute,
  Line,
  LineBasicMaterial,
  Mesh,
  MeshBasicMaterial,
  MeshLambertMaterial,
  Points,
  PointsMaterial,
  SphereGeometry,
  Vector3,
  type Object3D,
} from "three";
import type { Schemas } from "@/api/client";
import { MISS_BANDS, MISS_COLOURS } from "./misses";
import { surface, Turntable } from "./turntable";

export type Spot = [number, number, number];
export interface Ends {
  low: Spot;
  high: Spot;
  ahead: Spot;
}

/** A scanned body with the segment's ends to drag, the fitted tube and what it misses. */
export class ScanStage extends Turntable {
  private readonly skin = new MeshLambertMaterial({ color: "#d8c3a0", side: DoubleSide, flatShading: true });
  private readonly tubeSkin = new MeshLambertMaterial({ color: "#2f7f79", side: DoubleSide });
  private readonly ringInk = new LineBasicMaterial({ color: "#2e2c2a" });
  private readonly ball = new SphereGeometry(1, 20, 14);
  private body?: Mesh;
  private balls: Mesh[] = [];
  private arrow?: ArrowHelper;
  private fitted: Object3D[] = [];
  private height = 1700;

  constructor(canvas: HTMLCanvasElement) {
    super(canvas, { view: 30, near: 10, far: 12000 });
  }

  showBody(mesh: Schemas["ScanMeshOut"]) {
    if (this.body) this.drop(this.body);
    const geometry = surface(mesh.positions, mesh.triangles);
    this.body = new Mesh(geometry, this.skin);
    this.scene.add(this.body);
    this.height = Math.max(...mesh.size);
    geometry.computeBoundingBox();
    this.look(geometry.boundingBox!.getCenter(new Vector3()), this.height * 1.15);
  }

  showEnds(ends: Ends | null) {
    for (const ball of this.balls) this.drop(ball);
    if (this.arrow) this.scene.remove(this.arrow);
    this.balls = [];
    this.arrow = undefined;
    if (ends) {
      const [low, high, ahead] = [ends.low, ends.high, ends.ahead].map((p) => new Vector3(...p));
      [low, high].forEach((at, index) => {
        const ball = new Mesh(
          this.ball,
          new MeshBasicMaterial({
            color: index ? "#c98a1b" : "#9c3a29",
            depthTest: false,
            transparent: true,
            opacity: 0.9,
          }),
        );
        ball.renderOrder = 3;
        ball.position.copy(at);
        ball.scale.setScalar(Math.max(12, at.distanceTo(this.camera.position) * 0.012));
        ball.userData = { index };
        this.balls.push(ball);
        this.scene.add(ball);
      });
      this.arrow = new ArrowHelper(
        ahead.clone().normalize(),
        low.clone().add(high).multiplyScalar(0.5),
        low.distanceTo(high) * 0.55,
        "#6b4a6e",
        34,
        20,
      );
      this.scene.add(this.arrow);
    }
    this.draw();
  }

  showFit(fit: Schemas["TubeFitOut"] | null, showMiss: boolean) {
    for (const item of this.fitted) this.drop(item);
    this.fitted = [];
    this.skin.transparent = Boolean(fit);
    this.skin.opacity = fit ? 0.32 : 1;
    this.skin.depthWrite = !fit;
    if (fit) {
      this.keep(new Mesh(surface(fit.positions, fit.triangles), this.tubeSkin));
      for (const ring of fit.rings)
        this.keep(
          new Line(new BufferGeometry().setFromPoints(ring.map((p) => new Vector3(...(p as Spot)))), this.ringInk),
        );
      if (showMiss) {
        const dots = new BufferGeometry();
        dots.setAttribute("position", new Float32BufferAttribute(fit.places, 3));
        const colours = fit.miss.flatMap((m) =>
          hex((m >= 0 ? MISS_COLOURS.outside : MISS_COLOURS.inside)[band(Math.abs(m))]),
        );
        dots.setAttribute("color", new Float32BufferAttribute(colours, 3));
        this.keep(new Points(dots, new PointsMaterial({ size: 5, vertexColors: true, sizeAttenuation: false })));
        this.tubeSkin.color.set("#efe7d6");
      } else this.tubeSkin.color.set("#2f7f79");
    }
    this.draw();
  }

  /** Come near to the segment. */
  nearTo(ends: Ends) {
    const low = new Vector3(...ends.low);
    const high = new Vector3(...ends.high);
    this.look(low.clone().add(high).multiplyScalar(0.5), Math.max(low.distanceTo(high) * 1.7, 260));
  }

  far() {
    const box = this.body?.geometry.boundingBox;
    if (box) this.look(box.getCenter(new Vector3()), this.height * 1.15);
  }

  pickEnd(x: number, y: number): number | null {
    this.aim(x, y);
    const hit = this.ray.intersectObjects(this.balls)[0];
    return hit ? (hit.object.userData.index as number) : null;
  }

  touch(x: number, y: number): Spot | null {
    this.aim(x, y);
    const hit = this.body && this.ray.intersectObject(this.body)[0];
    return hit ? [hit.point.x, hit.point.y, hit.point.z] : null;
  }

  moveBall(index: number, to: Spot) {
    this.balls[index]?.position.set(...to);
    this.draw();
  }

  override dispose() {
    for (const item of [...this.fitted, ...this.balls, this.body]) if (item) this.drop(item);
    for (const m of [this.skin, this.tubeSkin, this.ringInk]) m.dispose();
    this.ball.dispose();
    super.dispose();
  }

  private look(at: Vector3, size: number) {
    const away = (size / 2 / Math.tan((15 * Math.PI) / 180)) * Math.max(1, 0.72 / this.camera.aspect);
    this.stand(at, new Vector3(0.28, -0.94, 0.12).multiplyScalar(away));
  }

  private keep(item: Object3D) {
    this.fitted.push(item);
    this.scene.add(item);
  }

  private drop(item: Object3D) {
    this.scene.remove(item);
    const made = item as Mesh;
    if (made.geometry !== this.ball) made.geometry?.dispose();
  }
}

const band = (miss: number) => MISS_BANDS.filter((limit) => miss > limit).length;
const hex = (colour: string) => [1, 3, 5].map((at) => (parseInt(colour.slice(at, at + 2), 16) / 255) ** 2.2);
