import {
  BufferGeometry,
  DoubleSide,
  Line,
  LineBasicMaterial,
  Mesh,
  MeshLambertMaterial,
  SphereGeometry,
  Vector3,
  type Material,
} from "three";
import type { Cast } from "@/api/client";
import { LaidOn, type Worn } from "./laidOn";
import { tapeTexture, TILE } from "./tape";
import { surface, Turntable } from "./turntable";

export interface StationPlace {
  name: string;
  girth: number;
  x: number;
  y: number;
  shown: boolean;
}

const OVER = { polygonOffset: true, polygonOffsetFactor: -2 };

/** The taped cast of one limb on a turntable, with the foam over it. Disposes of all it made. */
export class CastStage extends Turntable {
  private readonly tape = new MeshLambertMaterial({ map: tapeTexture(), side: DoubleSide });
  private readonly foam = new MeshLambertMaterial({ color: "#4a5058", side: DoubleSide });
  private readonly bright = new MeshLambertMaterial({ color: "#3f9c94", side: DoubleSide, ...OVER });
  private readonly dot = new Mesh(new SphereGeometry(7, 16, 12), new MeshLambertMaterial({ color: "#c98a1b" }));
  private lit = { panel: 0, mesh: undefined as Mesh | undefined };
  private bodyMesh?: Mesh;
  private foamMesh?: Mesh;
  private readonly ring = new LineBasicMaterial({ color: "#2e2c2a" });
  private made: (Mesh | Line)[] = [];
  private readonly laid = new LaidOn(this.scene);
  private cast?: Cast;

  constructor(
    canvas: HTMLCanvasElement,
    private readonly onPlaces: (places: StationPlace[]) => void,
  ) {
    super(canvas, { view: 28, near: 10, far: 5000 });
    this.controls.enablePan = false;
    this.dot.visible = false;
    this.scene.add(this.dot);
  }

  show(cast: Cast, withFoam: boolean) {
    const first = !this.cast || Math.abs(this.cast.length - cast.length) > 40 || this.cast.side !== cast.side;
    this.cast = cast;
    this.clear();
    const scaled = cast.tape.map((v) => v / TILE);
    this.bodyMesh = new Mesh(surface(cast.positions, cast.triangles, scaled), this.tape);
    this.add(this.bodyMesh);
    this.foamMesh =
      withFoam && cast.foam_panels.length
        ? new Mesh(surface(cast.foam_positions, cast.foam_triangles), this.foam)
        : undefined;
    if (this.foamMesh) this.add(this.foamMesh);
    this.paint();
    for (const ring of cast.rings) {
      const out = ring.points.map((p) => new Vector3(p[0] * 1.008, p[1] * 1.008, p[2]));
      this.add(new Line(new BufferGeometry().setFromPoints(out), this.ring));
    }
    if (first) this.lookAt(cast);
    this.draw();
  }

  /** What lies on the foam, as it is worn. */
  lay(parts: readonly Worn[], held: string) {
    this.laid.show(parts, held);
    this.draw();
  }

  /** Light up one panel of the foam; 0 for none. */
  light(panel: number) {
    if (panel === this.lit.panel) return;
    this.lit.panel = panel;
    this.paint();
    this.draw();
  }

  /** Mark a place (around, along) of the body; null for none. */
  mark(place: readonly number[] | null) {
    this.dot.visible = Boolean(place && this.cast);
    if (place && this.cast) {
      const n = nearest(this.cast.places, place);
      const [x, y, z] = this.cast.positions.slice(3 * n, 3 * n + 3);
      this.dot.position.set(x * 1.06, y * 1.06, z);
    }
    this.draw();
  }

  /** Which panel lies under a point of the window, 0 where it is bare skin, and where on the body;
   * null beside both. */
  under(x: number, y: number): { panel: number; place: [number, number] } | null {
    if (!this.bodyMesh || !this.cast) return null;
    this.aim(x, y);
    const shells = this.foamMesh ? [this.foamMesh, this.bodyMesh] : [this.bodyMesh];
    const hit = this.ray.intersectObjects(shells)[0];
    if (!hit || hit.faceIndex === null || hit.faceIndex === undefined) return null;
    let best = 0;
    let away = Infinity;
    const p = this.cast.positions;
    for (let n = 0; n < p.length / 3; n++) {
      const d = (p[3 * n] - hit.point.x) ** 2 + (p[3 * n + 1] - hit.point.y) ** 2 + (p[3 * n + 2] - hit.point.z) ** 2;
      if (d < away) [best, away] = [n, d];
    }
    const panel = hit.object === this.foamMesh ? this.cast.foam_panels[hit.faceIndex] : 0;
    return { panel, place: this.cast.places[best] as [number, number] };
  }

  private paint() {
    if (this.lit.mesh) {
      this.scene.remove(this.lit.mesh);
      this.lit.mesh.geometry.dispose();
      this.lit.mesh = undefined;
    }
    const cast = this.cast;
    if (!cast || !this.foamMesh || !this.lit.panel || new Set(cast.foam_panels).size < 2) return;
    const triangles = cast.foam_panels.flatMap((number, f) =>
      number === this.lit.panel ? cast.foam_triangles.slice(3 * f, 3 * f + 3) : [],
    );
    this.lit.mesh = new Mesh(surface(cast.foam_positions, triangles), this.bright);
    this.scene.add(this.lit.mesh);
  }

  protected override sized() {
    if (this.cast) this.lookAt(this.cast);
  }

  override dispose() {
    this.clear();
    this.laid.dispose();
    this.tape.map?.dispose();
    this.lit.mesh?.geometry.dispose();
    this.dot.geometry.dispose();
    for (const material of [this.tape, this.foam, this.bright, this.dot.material, this.ring] as Material[])
      material.dispose();
    super.dispose();
  }

  private lookAt(cast: Cast) {
    const widest = Math.max(...cast.rings.map((r) => r.girth)) / Math.PI;
    const tall = cast.length + 90;
    const distance = Math.max(tall, (widest + 60) / Math.max(this.camera.aspect, 0.2)) * 2.25;
    const side = cast.side === "right" ? -0.34 : 0.34;
    this.stand(new Vector3(0, 0, cast.length / 2), new Vector3(side, -0.92, 0.2).multiplyScalar(distance));
  }

  private add(item: Mesh | Line) {
    this.made.push(item);
    this.scene.add(item);
  }

  private clear() {
    for (const item of this.made) {
      this.scene.remove(item);
      item.geometry.dispose();
    }
    this.made = [];
  }

  protected override render() {
    super.render();
    this.onPlaces(this.places());
  }

  private places(): StationPlace[] {
    const right = new Vector3().setFromMatrixColumn(this.camera.matrixWorld, 0);
    return (this.cast?.rings ?? []).map((ring) => {
      const best = ring.points.reduce((a, b) => (right.dot(new Vector3(...b)) > right.dot(new Vector3(...a)) ? b : a));
      const p = new Vector3(...best).project(this.camera);
      return {
        name: ring.name,
        girth: ring.girth,
        x: ((p.x + 1) / 2) * this.canvas.clientWidth,
        y: ((1 - p.y) / 2) * this.canvas.clientHeight,
        shown: p.z < 1,
      };
    });
  }
}

/** Which of the places (around, along) lies nearest; around runs full circle at 1. */
function nearest(places: readonly (readonly number[])[], [u, v]: readonly number[]): number {
  let best = 0;
  let away = Infinity;
  places.forEach(([a, b], n) => {
    const turn = Math.abs(((a - u + 1.5) % 1) - 0.5) * 3;
    const d = turn * turn + (b - v) ** 2;
    if (d < away) [best, away] = [n, d];
  });
  return best;
}
