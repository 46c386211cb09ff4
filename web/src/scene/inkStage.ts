import {
  BufferGeometry,
  DoubleSide,
  Line,
  LineBasicMaterial,
  LineLoop,
  Mesh,
  MeshBasicMaterial,
  MeshLambertMaterial,
  SphereGeometry,
  Vector3,
  type Intersection,
  type Object3D,
} from "three";
import { drawn, strokeLine, type CastSheet, type Ink, type Pair, type SheetMap } from "@/canvas/sheetMap";
import { tapeTexture, TILE } from "./tape";
import { STILL, surface, Turntable } from "./turntable";

const COLOURS: Record<string, string> = {
  outline: "#2e2c2a",
  seam: "#1f6a64",
  dart: "#9c3a29",
  fold: "#6b4a6e",
  score: "#6b4a6e",
  "trim edge": "#8f5f0c",
  "layer cut": "#2b736e",
  "paint line": "#b07812",
  "centre line": "#6f6a61",
  mark: "#6f6a61",
};
const OFF = 2.5;
// How far ink floats over the skin so it is not swallowed by it, mm.
const CORDS = [-0.9, 0, 0.9];
// Pixels drawn to one on the screen while something moves.
const MOVING = 0.5;
const SETTLED = 700;
// The sheet comes first: the body takes this many times its own last frame between two of its frames.
const SHARE = 10;
const LEAST_WAIT = 1000;
// No driver slower than this many ms a frame is made to wait so long.
const QUICK = 25;

export interface Grip {
  key: string;
  index: number;
}

/** The taped body with its ink: press a line to choose it, drag a point along the body, drag beside it to turn. */
export class InkStage extends Turntable {
  private readonly tape = new MeshLambertMaterial({ map: tapeTexture(), side: DoubleSide });
  private readonly foam = new MeshLambertMaterial({ color: "#4a5058", side: DoubleSide });
  private readonly sphere = new SphereGeometry(1, 16, 12);
  private readonly red = new MeshBasicMaterial({ color: "#c0452f" });
  /** Kept for good: a material that goes takes its compiled program with it, and the next frame waits for a new one. */
  private readonly inks = new Map<string, LineBasicMaterial>();
  private body?: Mesh;
  private armour?: Mesh;
  private readonly lines = new Map<string, Line>();
  private dots: Mesh[] = [];
  private map?: SheetMap;
  private cast?: CastSheet;
  private freeAt = 0;
  private settle = 0;
  private waiting = 0;
  private held = false;

  constructor(canvas: HTMLCanvasElement) {
    super(canvas, { view: 28, near: 10, far: 8000, draws: { canvas, antialias: false } });
    this.renderer.setPixelRatio(STILL);
    this.controls.enablePan = false;
  }

  /** Lay the body on the turntable. A body of another part is looked at afresh. */
  showBody(map: SheetMap) {
    const cast = map.cast;
    const fresh = !this.cast || this.cast.part !== cast.part || Math.abs(this.tall(this.cast) - this.tall(cast)) > 60;
    this.map = map;
    if (this.cast !== cast) {
      this.drop(this.body);
      const uv: number[] = [];
      for (let i = 0; i < cast.levels.length; i++)
        for (const u of cast.around) uv.push((u * cast.girths[i]) / TILE, cast.levels[i] / TILE);
      for (const [u, v] of cast.rim) uv.push((u * map.girth(map.mm(v))) / TILE, map.mm(v) / TILE);
      this.body = new Mesh(surface(cast.points, cast.triangles, uv), this.tape);
      this.scene.add(this.body);
    }
    this.cast = cast;
    if (fresh) this.lookAt();
    this.draw();
  }

  showFoam(positions: number[], triangles: number[], shown: boolean) {
    this.drop(this.armour);
    this.armour = undefined;
    if (shown && triangles.length) {
      this.armour = new Mesh(surface(positions, triangles), this.foam);
      this.scene.add(this.armour);
    }
    this.draw();
  }

  /** Draw the ink. Lines that did not change are left as they are. */
  showInk(ink: Ink, chosen: string | null, off: number) {
    const map = this.map;
    if (!map) return;
    const wanted = new Set<string>();
    for (const { stroke, image } of drawn(ink)) {
      const lit = stroke.key === chosen && !image;
      const state = JSON.stringify([stroke.points, stroke.curve, stroke.closed, stroke.kind, off, lit]);
      for (const [n, cord] of CORDS.entries()) {
        const key = `${stroke.key}${image ? "'" : ""}:${n}`;
        wanted.add(key);
        const old = this.lines.get(key);
        if (old?.userData.state === state) continue;
        if (old) this.dropLine(key);
        const dense = strokeLine(stroke).map((p) => new Vector3(...map.space(p, off + OFF + cord)));
        const colour = stroke.key === chosen && !image ? "#c0452f" : COLOURS[stroke.kind];
        const line = new (stroke.closed ? LineLoop : Line)(
          new BufferGeometry().setFromPoints(dense),
          this.inkOf(colour, image),
        );
        line.userData = { state, stroke: image ? "" : stroke.key };
        this.lines.set(key, line);
        this.scene.add(line);
      }
    }
    for (const key of [...this.lines.keys()]) if (!wanted.has(key)) this.dropLine(key);
    this.showDots(ink, chosen, off);
    this.stir(!this.held);
  }

  private showDots(ink: Ink, chosen: string | null, off: number) {
    for (const dot of this.dots) this.scene.remove(dot);
    this.dots = [];
    const stroke = ink.strokes.find((s) => s.key === chosen);
    const size = this.tall(this.cast!) * 0.013 + 1.5;
    stroke?.points.forEach((p, index) => {
      const dot = new Mesh(this.sphere, this.red);
      dot.scale.setScalar(size);
      dot.position.set(...this.map!.space(p as Pair, off + OFF));
      dot.userData = { key: stroke.key, index };
      // A press may come before the next picture is drawn.
      dot.updateMatrixWorld();
      this.dots.push(dot);
      this.scene.add(dot);
    });
  }

  /** What lies under the pointer: a control point, a line, or the body. */
  pick(x: number, y: number): { grip?: Grip; stroke?: string; at?: Pair } {
    this.aim(x, y);
    const dot = this.ray.intersectObjects(this.dots)[0];
    if (dot) return { grip: dot.object.userData as Grip };
    this.ray.params.Line = { threshold: this.tall(this.cast!) * 0.012 };
    const skin = this.body ? this.ray.intersectObject(this.body)[0] : undefined;
    const line = this.ray
      .intersectObjects([...this.lines.values()] as Object3D[])
      .find((hit) => hit.object.userData.stroke && (!skin || hit.distance < skin.distance + 12));
    return { stroke: line?.object.userData.stroke as string | undefined, at: skin ? this.bodyPoint(skin) : undefined };
  }

  /** Where the pointer meets the body, as (around, along). */
  on(x: number, y: number): Pair | undefined {
    this.aim(x, y);
    const skin = this.body ? this.ray.intersectObject(this.body)[0] : undefined;
    return skin ? this.bodyPoint(skin) : undefined;
  }

  private bodyPoint(hit: Intersection): Pair {
    const { along, girths, levels } = this.cast!;
    const v = hit.uv!.y * TILE;
    let row = 0;
    while (row < levels.length - 2 && levels[row + 1] < v) row++;
    const share = (v - levels[row]) / (levels[row + 1] - levels[row]);
    const girth = girths[row] + share * (girths[row + 1] - girths[row]);
    return [(hit.uv!.x * TILE) / girth, along[row] + share * (along[row + 1] - along[row])];
  }

  override hold(on: boolean) {
    super.hold(on);
    this.held = on;
  }

  protected override sized() {
    if (this.cast) this.lookAt();
  }

  protected override turned() {
    this.stir(false);
  }

  override dispose() {
    clearTimeout(this.settle);
    clearTimeout(this.waiting);
    for (const key of [...this.lines.keys()]) this.dropLine(key);
    for (const material of [this.red, ...this.inks.values()]) material.dispose();
    this.drop(this.body);
    this.drop(this.armour);
    this.sphere.dispose();
    this.tape.map?.dispose();
    this.tape.dispose();
    this.foam.dispose();
    super.dispose();
  }

  private tall = (cast: CastSheet) => cast.levels[cast.levels.length - 1] - cast.levels[0];

  private lookAt() {
    const cast = this.cast!;
    const p = cast.points;
    let low = Infinity;
    let high = -Infinity;
    let wide = 0;
    for (let i = 0; i < p.length; i += 3) {
      low = Math.min(low, p[i + 2]);
      high = Math.max(high, p[i + 2]);
      wide = Math.max(wide, Math.abs(p[i]), Math.abs(p[i + 1]));
    }
    const distance = Math.max(high - low, (2 * wide) / Math.max(this.camera.aspect, 0.2)) * 2.3;
    const z = (low + high) / 2;
    const side = cast.side === "right" ? -0.3 : 0.3;
    this.stand(new Vector3(0, 0, z), new Vector3(side, -0.93, 0.16).multiplyScalar(distance));
  }

  private drop(item?: Mesh) {
    if (!item) return;
    this.scene.remove(item);
    item.geometry.dispose();
  }

  private dropLine(key: string) {
    const line = this.lines.get(key)!;
    this.scene.remove(line);
    line.geometry.dispose();
    this.lines.delete(key);
  }

  private inkOf(colour: string, image: boolean): LineBasicMaterial {
    const key = `${colour}${image}`;
    const kept =
      this.inks.get(key) ?? new LineBasicMaterial({ color: colour, transparent: image, opacity: image ? 0.5 : 1 });
    this.inks.set(key, kept);
    return kept;
  }

  protected override render() {
    const from = performance.now();
    super.render();
    requestAnimationFrame(() => {
      const taken = performance.now() - from;
      this.freeAt = performance.now() + (taken < QUICK ? 0 : Math.max(LEAST_WAIT, SHARE * taken));
    });
  }

  /** Something moves: draw it coarsely now, and finely once it has come to rest. */
  private stir(inTurn: boolean) {
    clearTimeout(this.settle);
    this.settle = window.setTimeout(() => this.sharpen(STILL), SETTLED);
    if (this.renderer.getPixelRatio() !== MOVING) this.sharpen(MOVING);
    const wait = inTurn ? this.freeAt - performance.now() : 0;
    clearTimeout(this.waiting);
    if (wait > 0) this.waiting = window.setTimeout(() => this.draw(), wait);
    else this.draw();
  }

  private sharpen(ratio: number) {
    this.renderer.setPixelRatio(ratio);
    this.draw();
  }
}
