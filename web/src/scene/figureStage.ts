import {
  BufferGeometry,
  DoubleSide,
  GridHelper,
  Matrix4,
  Mesh,
  MeshBasicMaterial,
  MeshLambertMaterial,
  SphereGeometry,
  Vector3,
  type Material,
} from "three";
import type { Schemas } from "@/api/client";
import { ribbon } from "./ribbon";
import { STILL, surface, Turntable } from "./turntable";

type Figure = Schemas["FigureOut"];
type Anchor = Schemas["AnchorOut"];
// Degrees by "joint|motion".
export type Pose = Record<string, number>;
export type Spot = readonly [number, number, number];

// Fewer pixels while something moves, so that it moves.
const MOVING = 0.34;
const SETTLED = 800;

/** The wearer with all pieces on: turned, posed by the joints, anchors dragged over their piece. */
export class FigureStage extends Turntable {
  private readonly paper: CanvasRenderingContext2D;
  private readonly skin = new MeshLambertMaterial({ color: "#dcc08c", side: DoubleSide });
  private readonly foam = new MeshLambertMaterial({ color: "#4d545c", side: DoubleSide });
  private readonly mine = new MeshLambertMaterial({ color: "#3f9c94", side: DoubleSide });
  private readonly webbing = new MeshLambertMaterial({ color: "#c8852a", side: DoubleSide });
  private readonly elastic = new MeshLambertMaterial({ color: "#8a5a90", side: DoubleSide });
  private readonly others = new MeshLambertMaterial({ color: "#b3a585", side: DoubleSide });
  private readonly knob = new MeshBasicMaterial({ color: "#2e2c2a" });
  private readonly held = new MeshBasicMaterial({ color: "#a8432f", depthTest: false });
  private readonly hint = new MeshBasicMaterial({ color: "#c98a1b", depthTest: false });
  private readonly ball = new SphereGeometry(1, 18, 12);
  private meshes: { mesh: Mesh; region: string; piece: number; side: string }[] = [];
  private bands: Mesh[] = [];
  private knobs: Mesh[] = [];
  private spots: { mesh: Mesh; region: string }[] = [];
  private figure?: Figure;
  private pose: Pose = {};
  private piece = 0;
  private settle = 0;
  private ratio = STILL;
  private box = { width: 1, height: 1 };

  /** It is drawn beside the page, and what was drawn is laid on the page's own canvas. Without a graphics card a page
   * that shows a canvas of three dimensions itself is put together anew in every frame, many times slower than the
   * picture is drawn. */
  constructor(
    canvas: HTMLCanvasElement,
    private readonly onStill: () => void,
  ) {
    super(canvas, { view: 26, near: 50, far: 12000, draws: { antialias: false, preserveDrawingBuffer: true } });
    this.paper = canvas.getContext("2d")!;
    this.controls.enablePan = false;
  }

  show(figure: Figure) {
    const first = !this.figure;
    this.figure = figure;
    for (const { mesh } of this.meshes) this.drop(mesh);
    this.meshes = figure.meshes.map((m) => {
      const made = new Mesh(surface(m.positions, m.triangles), this.skin);
      return this.put(made, m.region, m.piece, m.side);
    });
    this.addEnds(figure);
    this.paint();
    this.showStraps();
    if (first) this.lookAt();
    this.applyPose();
  }

  /** Light up one piece, and show its anchors. */
  choose(piece: number, anchors: readonly Anchor[]) {
    const moved = piece !== this.piece;
    this.piece = piece;
    for (const knob of this.knobs) this.scene.remove(knob);
    this.knobs = anchors.map((a) => {
      const knob = new Mesh(this.ball, this.knob);
      knob.position.set(...(a.at as [number, number, number]));
      knob.scale.setScalar(9);
      knob.userData = { name: a.name, side: a.side };
      knob.updateMatrixWorld();
      this.scene.add(knob);
      return knob;
    });
    this.paint();
    if (moved) this.showStraps();
    this.applyPose();
  }

  /** Places to look at, on the standing figure, that go with a part of the body. */
  mark(places: readonly { at: readonly number[]; region: string; hint?: boolean }[]) {
    for (const { mesh } of this.spots) this.scene.remove(mesh);
    this.spots = places.map((p) => {
      const mesh = new Mesh(this.ball, p.hint ? this.hint : this.held);
      const [x, y, z] = p.at;
      mesh.matrixAutoUpdate = false;
      mesh.renderOrder = 2;
      mesh.userData = { base: new Matrix4().makeTranslation(x, y, z).scale(new Vector3(13, 13, 13)) };
      this.scene.add(mesh);
      return { mesh, region: p.region };
    });
    this.applyPose();
  }

  setPose(pose: Pose) {
    this.pose = pose;
    this.applyPose();
  }

  /** The region of a piece's copy, to mark places on it. */
  regionOf(piece: number, side?: string): string {
    return this.meshes.find((m) => m.piece === piece && (!side || m.side === side))?.region ?? "chest";
  }

  protected override sized(width: number, height: number) {
    this.box = { width, height };
    if (this.figure) this.lookAt();
  }

  protected override turned() {
    this.stir();
  }

  /** Look at the chosen piece closely, or at the whole figure. */
  near(close: boolean) {
    this.lookAt(close);
  }

  /** The anchor under the pointer. */
  anchorAt(x: number, y: number): { name: string; side: string } | null {
    this.aim(x, y);
    const hit = this.ray.intersectObjects(this.knobs)[0];
    return (hit?.object.userData as { name: string; side: string } | undefined) ?? null;
  }

  /** Carry an anchor to where the pointer meets its piece; that place, or nothing beside it. */
  carry(name: string, side: string, x: number, y: number): Spot | null {
    this.aim(x, y);
    const own = this.meshes.filter((m) => m.piece === this.piece && m.side === side).map((m) => m.mesh);
    const hit = this.ray.intersectObjects(own)[0];
    const knob = this.knobs.find((k) => k.userData.name === name && k.userData.side === side);
    if (!hit || !knob) return null;
    knob.material = this.held;
    knob.position.copy(hit.point);
    this.stir();
    return [hit.point.x, hit.point.y, hit.point.z];
  }

  pieceAt(x: number, y: number): number {
    this.aim(x, y);
    const hit = this.ray.intersectObjects(this.meshes.map((m) => m.mesh))[0];
    return this.meshes.find((m) => m.mesh === hit?.object)?.piece ?? 0;
  }

  override dispose() {
    window.clearTimeout(this.settle);
    for (const { mesh } of this.meshes) this.drop(mesh);
    for (const band of this.bands) this.drop(band);
    this.ball.dispose();
    const all: Material[] = [this.skin, this.foam, this.mine, this.webbing, this.elastic, this.others];
    for (const m of [...all, this.knob, this.held, this.hint]) m.dispose();
    super.dispose();
  }

  private put(mesh: Mesh, region: string, piece: number, side: string) {
    mesh.matrixAutoUpdate = false;
    this.scene.add(mesh);
    return { mesh, region, piece, side };
  }

  /** Head and hands, to know where they would be: nobody measured them. */
  private addEnds(figure: Figure) {
    const at = (key: string) =>
      new Vector3(...(figure.joints.find((j) => j.key === key)!.at as [number, number, number]));
    const add = (region: string, place: Vector3, size: Spot) => {
      const geometry = new SphereGeometry(1, 24, 16);
      geometry.scale(...size);
      geometry.translate(place.x, place.y, place.z);
      this.meshes.push(this.put(new Mesh(geometry, this.skin), region, 0, "left"));
    };
    add("head", at("neck").add(new Vector3(0, -18, 172)), [74, 96, 112]);
    for (const side of ["left", "right"]) {
      const [wrist, elbow] = [at(`${side} wrist`), at(`${side} elbow`)];
      add(`${side} hand`, wrist.clone().add(wrist.clone().sub(elbow).normalize().multiplyScalar(72)), [20, 42, 84]);
    }
    if (this.ground) this.scene.remove(this.ground);
    this.ground = new GridHelper(1500, 10, "#cbb98f", "#ddcfa9");
    this.ground.material.transparent = true;
    this.ground.material.opacity = 0.4;
    this.ground.rotation.x = Math.PI / 2;
    this.ground.position.z = figure.ground;
    this.scene.add(this.ground);
  }
  private ground?: GridHelper;

  private paint() {
    for (const m of this.meshes)
      m.mesh.material = !m.piece ? this.skin : m.piece === this.piece ? this.mine : this.foam;
  }

  private showStraps() {
    for (const band of this.bands) this.drop(band);
    const body = this.meshes.filter((m) => !m.piece).map((m) => m.mesh.geometry as BufferGeometry);
    this.bands = this.figure!.straps.map((s) => {
      const own = s.piece === this.piece;
      const material = !own ? this.others : s.material === "elastic" ? this.elastic : this.webbing;
      const band = new Mesh(ribbon(s.points, body, own ? 24 : 16), material);
      this.scene.add(band);
      return band;
    });
  }

  /** Every region's matrix: joints nearer the hand or foot turn first, those nearer the trunk carry them along. */
  private matrices(): Map<string, Matrix4> {
    const out = new Map<string, Matrix4>();
    const joints = [...this.figure!.joints].sort((a, b) => b.rank - a.rank);
    for (const joint of joints)
      for (const motion of joint.motions) {
        const degrees = this.pose[`${joint.key}|${motion.key}`] ?? 0;
        if (!degrees) continue;
        const at = new Vector3(...(joint.at as [number, number, number]));
        const axis = new Vector3(...(motion.axis as [number, number, number]));
        for (const [region, share] of Object.entries(joint.moves)) {
          const turn = new Matrix4().makeTranslation(at.x, at.y, at.z);
          turn.multiply(new Matrix4().makeRotationAxis(axis, (degrees * share * Math.PI) / 180));
          turn.multiply(new Matrix4().makeTranslation(-at.x, -at.y, -at.z));
          out.set(region, turn.multiply(out.get(region) ?? new Matrix4()));
        }
      }
    return out;
  }

  private applyPose() {
    if (!this.figure) return;
    const turned = this.matrices();
    const plain = new Matrix4();
    for (const m of this.meshes) {
      m.mesh.matrix.copy(turned.get(m.region) ?? plain);
      m.mesh.matrixWorldNeedsUpdate = true;
    }
    for (const s of this.spots) {
      s.mesh.matrix.copy(turned.get(s.region) ?? plain).multiply(s.mesh.userData.base as Matrix4);
      s.mesh.matrixWorldNeedsUpdate = true;
    }
    // Straps are told for the standing figure: what they do in a posture is a length, not a picture.
    const standing = turned.size === 0;
    for (const band of [...this.bands, ...this.knobs]) band.visible = standing;
    this.stir();
  }

  private lookAt(close = false) {
    const own = this.meshes.filter((m) => (close ? m.piece === this.piece : true));
    const low = new Vector3(Infinity, Infinity, Infinity);
    const high = new Vector3(-Infinity, -Infinity, -Infinity);
    for (const { mesh } of own.length ? own : this.meshes) {
      mesh.geometry.computeBoundingBox();
      low.min(mesh.geometry.boundingBox!.min);
      high.max(mesh.geometry.boundingBox!.max);
    }
    const centre = low.clone().add(high).multiplyScalar(0.5);
    const size = high.clone().sub(low);
    const reach = Math.max(size.z * 1.08, (Math.max(size.x, size.y) * 1.15) / Math.max(this.camera.aspect, 0.2));
    const distance = (reach / 2 / Math.tan((this.camera.fov * Math.PI) / 360)) * 1.04 + size.y / 2;
    this.stand(centre, new Vector3(0.36, -0.92, 0.12).multiplyScalar(distance));
  }

  /** Draw at once with fewer pixels, and again with all of them when it is still. */
  private stir() {
    this.draw(MOVING);
    window.clearTimeout(this.settle);
    this.settle = window.setTimeout(() => {
      this.draw(STILL);
      this.onStill();
    }, SETTLED);
  }

  protected override draw(ratio = STILL) {
    this.ratio = ratio;
    // A frame that is asked for is kept: a drag that asks in every frame would put it off for ever.
    if (this.frame) return;
    this.frame = requestAnimationFrame(() => this.render());
  }

  protected override render() {
    this.frame = 0;
    // Each of these takes a new picture's memory: only where they change something.
    if (this.renderer.getPixelRatio() !== this.ratio) this.renderer.setPixelRatio(this.ratio);
    super.render();
    this.lay();
    this.canvas.dataset.frames = String(Number(this.canvas.dataset.frames ?? 0) + 1);
  }

  private lay() {
    const drawn = this.renderer.domElement;
    if (this.canvas.width !== drawn.width || this.canvas.height !== drawn.height) {
      this.canvas.width = drawn.width;
      this.canvas.height = drawn.height;
    } else this.paper.clearRect(0, 0, drawn.width, drawn.height);
    this.paper.drawImage(drawn, 0, 0);
  }

  private drop(mesh: Mesh) {
    this.scene.remove(mesh);
    mesh.geometry.dispose();
  }

  /** Where a place of the standing figure is on the canvas, in pixels. */
  screen(at: readonly number[]): { x: number; y: number } {
    const p = new Vector3(at[0], at[1], at[2]).project(this.camera);
    return { x: ((p.x + 1) / 2) * this.box.width, y: ((1 - p.y) / 2) * this.box.height };
  }
}
