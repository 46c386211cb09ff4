<script setup lang="ts">
import { computed, ref, watch } from "vue";
import type { Chosen, InkRead } from "@/screens/pattern/ink/inkDraft";
import { useUnit } from "@/parts/units";
import { paintMoving } from "./movingInk";
import { drawn, held, snap, strokeLine, type Ink, type Pair, type SheetMap, type Stroke } from "./sheetMap";

/** The unrolled cast to draw on: drag a point, double-press a line to bend it, press in turn to draw a new one. */
const props = defineProps<{
  map: SheetMap;
  ink: Ink;
  read: InkRead | undefined;
  chosen: Chosen | null;
  pen: boolean;
  snapping: boolean;
  pointed: Pair | null;
  picture: { href: string; x: number; y: number; width: number; height: number; opacity: number } | null;
  scaling: boolean;
  moving: string | null;
}>();
const emit = defineEmits<{
  choose: [at: Chosen | null];
  move: [at: Chosen, to: Pair];
  drop: [];
  draw: [points: Pair[], closed: boolean];
  bend: [key: string, span: number, at: Pair];
  hover: [at: Pair | null];
  measure: [at: Pair];
}>();

const svg = ref<SVGSVGElement>();
const over = ref<HTMLCanvasElement>();
const view = ref({ x: 0, y: 0, w: 100, h: 100 });
const started = ref<Pair[]>([]);
const under = ref<Pair | null>(null);
const said = ref("");

const bounds = computed(() => {
  const c = props.map.cast;
  const pad = 24;
  const half = props.map.half + pad;
  return {
    x: -half,
    y: -c.levels[c.levels.length - 1] - pad,
    w: 2 * half,
    h: c.levels[c.levels.length - 1] - c.levels[0] + 2 * pad,
  };
});
const home = () => (view.value = { ...bounds.value });
watch(() => `${props.map.cast.part}${props.map.cast.side}${Math.round(bounds.value.h / 40)}`, home, {
  immediate: true,
});
watch(
  () => props.pen,
  () => (started.value = []),
);

const edge = computed(() => {
  const c = props.map.cast;
  const right = c.levels.map((mm, i) => `${(c.girths[i] / 2).toFixed(1)} ${(-mm).toFixed(1)}`);
  const left = c.levels.map((mm, i) => `${(-c.girths[i] / 2).toFixed(1)} ${(-mm).toFixed(1)}`).reverse();
  return `M${[...right, ...left].join("L")}Z`;
});
const stations = computed(() => props.map.cast.stations.map((s) => ({ ...s, half: props.map.girth(s.mm) / 2 })));
const columns = computed(() =>
  props.map.cast.columns.map((c) => ({
    name: c.name,
    d: props.map.path(straight(c.points as Pair[])),
    at: props.map.place(c.points[0] as Pair),
  })),
);
const holes = computed(() => props.map.cast.holes.map((h) => props.map.path(h as Pair[], true)));
const panels = computed(() =>
  (props.read?.regions ?? []).flatMap((r) => {
    const one = {
      number: r.number,
      d: props.map.area(r.ring as Pair[]),
      at: props.map.place(r.inside as Pair),
      image: false,
    };
    if (!r.twin) return [one];
    const image = (r.ring as Pair[]).map(([u, v]) => [-u, v] as Pair);
    return [
      one,
      { number: r.number, d: props.map.area(image), at: props.map.place([-r.inside[0], r.inside[1]]), image: true },
    ];
  }),
);
const lines = computed(() =>
  drawn(props.ink).map(({ stroke, image }) => ({ stroke, image, d: props.map.path(strokeLine(stroke)) })),
);
const problems = computed(() =>
  (props.read?.problems ?? []).map((p) => ({ ...p, place: props.map.place(p.at as Pair) })),
);
const dots = computed(() => {
  const s = props.ink.strokes.find((x) => x.key === props.chosen?.key);
  return s ? s.points.map((p, i) => ({ i, at: props.map.place(p as Pair) })) : [];
});
const spot = computed(() => (props.pointed ? props.map.place(props.pointed) : null));
const unit = computed(() => view.value.w / Math.max(svg.value?.clientWidth ?? 700, 200));
const dot = computed(() => Math.max(unit.value, view.value.h / Math.max(svg.value?.clientHeight ?? 600, 200)));
/** While the hand is on the cast the sheet follows at this many ms, so as not to slow it. */
const BESIDE = 150;
let painted = 0;
/** Where the held point lies, in words: "40 mm above waist". */
const { show } = useUnit();
const height = computed(() => {
  const mm = dots.value.find((d) => d.i === props.chosen?.index)?.at[1];
  if (mm === undefined) return "";
  const near = stations.value.reduce((a, b) => (Math.abs(b.mm - mm) < Math.abs(a.mm - mm) ? b : a));
  const off = Math.round(mm - near.mm);
  return off ? `${show(Math.abs(off))} ${off > 0 ? "above" : "below"} ${near.name}` : `at ${near.name}`;
});
const INK: Partial<Record<Stroke["kind"], string>> = {
  seam: "--verdigris",
  dart: "--oxide",
  fold: "--plum",
  "trim edge": "--ochre",
  "layer cut": "--verdigris",
  "paint line": "--ochre",
};
watch(
  () => [props.moving, props.ink] as const,
  () => {
    if (!props.moving || !over.value || !svg.value) return;
    if (!holding && performance.now() - painted < BESIDE) return;
    painted = performance.now();
    const own = lines.value.filter((l) => l.stroke.key === props.moving);
    const drawnOver = own.map((l) => ({
      d: l.d,
      points: strokeLine(l.stroke).map((p) => props.map.place(p)),
      colour: l.image ? (INK[l.stroke.kind] ?? "--graphite") : "--oxide",
      width: 2.8 * dot.value,
      faint: l.image,
    }));
    const grips = dots.value.map((d) => ({ at: d.at, held: d.i === props.chosen?.index }));
    paintMoving(over.value, svg.value, drawnOver, grips, said.value ? `on ${said.value}` : height.value, dot.value);
  },
  { flush: "post" },
);

function straight(points: Pair[]): Pair[] {
  return points.flatMap((p, i) => {
    const q = points[i + 1];
    return q
      ? Array.from({ length: 24 }, (_, k) => [p[0] + ((q[0] - p[0]) * k) / 24, p[1] + ((q[1] - p[1]) * k) / 24] as Pair)
      : [p];
  });
}

function sheetPoint(event: PointerEvent | MouseEvent | WheelEvent): Pair {
  const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.value!.getScreenCTM()!.inverse());
  return [point.x, -point.y];
}

function bodyPoint(event: PointerEvent | MouseEvent, except: Chosen | null = null): Pair {
  const xy = sheetPoint(event);
  const like = except
    ? (props.ink.strokes.find((s) => s.key === except.key)?.points[except.index ?? 0][0] ?? 0)
    : started.value.length
      ? started.value[started.value.length - 1][0]
      : props.map.turned
        ? 0.5
        : 0;
  const raw = held(props.map.cast, props.map.at(xy, like));
  if (!props.snapping || event.altKey) {
    said.value = "";
    return raw;
  }
  const got = snap(
    props.map,
    props.ink,
    raw,
    9 * dot.value,
    except && except.index !== null ? { key: except.key, index: except.index } : null,
  );
  said.value = got.to;
  return got.to ? [got.at[0] + Math.round(raw[0] - got.at[0]), got.at[1]] : raw;
}

let holding: Chosen | null = null;
let panning: { x: number; y: number; view: typeof view.value } | null = null;
let moved = false;

function press(event: PointerEvent) {
  if (event.button > 1) return;
  svg.value!.setPointerCapture(event.pointerId);
  moved = false;
  if (props.scaling) {
    emit("measure", sheetPoint(event));
    return;
  }
  if (props.pen) return;
  const target = (event.target as Element).closest("[data-point],[data-stroke]") as SVGElement | null;
  if (target?.dataset.point) {
    holding = { key: props.chosen!.key, index: Number(target.dataset.point) };
    emit("choose", holding);
  } else if (target?.dataset.stroke) {
    emit("choose", { key: target.dataset.stroke, index: null });
  } else {
    panning = { x: event.clientX, y: event.clientY, view: { ...view.value } };
  }
}

let pending: PointerEvent | null = null;
function move(event: PointerEvent) {
  if (!pending) requestAnimationFrame(flush);
  pending = event;
}

/** One move a frame, however many the pointer reports. */
function flush() {
  const event = pending;
  pending = null;
  if (!event) return;
  if (holding) {
    moved = true;
    const to = bodyPoint(event, holding);
    emit("move", holding, to);
    under.value = to;
    return;
  }
  if (panning) {
    const scale = dot.value;
    moved = moved || Math.hypot(event.clientX - panning.x, event.clientY - panning.y) > 3;
    view.value = {
      ...view.value,
      x: panning.view.x - (event.clientX - panning.x) * scale,
      y: panning.view.y - (event.clientY - panning.y) * scale,
    };
    return;
  }
  under.value = bodyPoint(event);
  emit("hover", under.value);
}

function release(event: PointerEvent) {
  if (pending) flush();
  if (holding) {
    holding = null;
    if (moved) emit("drop");
  } else if (props.pen && !props.scaling) {
    const at = bodyPoint(event);
    const first = started.value[0];
    if (first && started.value.length > 2) {
      const [a, b] = [props.map.place(first), props.map.place(at)];
      if (Math.hypot(a[0] - b[0], a[1] - b[1]) < 9 * dot.value) return finish(true);
    }
    started.value = [...started.value, at];
  } else if (panning && !moved) emit("choose", null);
  panning = null;
}

function finish(closed = false) {
  if (started.value.length > 1) emit("draw", started.value, closed);
  started.value = [];
}

function twice(event: MouseEvent) {
  if (props.pen) {
    const p = started.value;
    if (p.length > 1) started.value = p.slice(0, -1);
    return finish();
  }
  const key = ((event.target as Element).closest("[data-stroke]") as SVGElement | null)?.dataset.stroke;
  const stroke = props.ink.strokes.find((s) => s.key === key);
  if (!stroke) return;
  const [x, y] = sheetPoint(event);
  const line = strokeLine(stroke);
  let best = 0;
  let nearest = Infinity;
  line.forEach((p, i) => {
    const [px, py] = props.map.place(p);
    const away = Math.hypot(px - x, py - y);
    if (away < nearest) [best, nearest] = [i, away];
  });
  emit("bend", stroke.key, Math.min(Math.floor(best / 12), stroke.points.length - (stroke.closed ? 1 : 2)), line[best]);
}

function wheel(event: WheelEvent) {
  const [x, up] = sheetPoint(event);
  zoom(event.deltaY > 0 ? 1.15 : 1 / 1.15, x, -up);
}

function zoom(by: number, x = view.value.x + view.value.w / 2, y = view.value.y + view.value.h / 2) {
  const v = view.value;
  const w = Math.min(Math.max(v.w * by, 60), bounds.value.w * 1.6);
  const real = w / v.w;
  view.value = { x: x - (x - v.x) * real, y: y - (y - v.y) * real, w, h: v.h * real };
}

/** Add a point that was pressed elsewhere, on the cast. */
const begin = (at: Pair) => (started.value = [...started.value, at]);

defineExpose({ begin, finish, home, zoom, drop: () => (started.value = []), drawing: () => started.value.length });
const rubber = computed(() => {
  if (!props.pen || !started.value.length) return "";
  const points = under.value ? [...started.value, under.value] : started.value;
  return points.length > 1 ? props.map.path(strokeLine({ points, curve: "smooth", closed: false })) : "";
});
</script>

<template>
  <div class="holder">
    <svg
      ref="svg"
      class="ink-sheet"
      :class="{ pen, scaling }"
      :viewBox="`${view.x} ${view.y} ${view.w} ${view.h}`"
      role="application"
      aria-label="Unrolled cast with its ink"
      @pointerdown="press"
      @pointermove="move"
      @pointerup="release"
      @pointerleave="emit('hover', null)"
      @dblclick="twice"
      @wheel.prevent="wheel">
      <path class="cast" :d="edge" />
      <image
        v-if="picture"
        :href="picture.href"
        :x="picture.x"
        :y="picture.y"
        :width="picture.width"
        :height="picture.height"
        :opacity="picture.opacity"
        preserveAspectRatio="none" />
      <path v-for="(h, i) in holes" :key="`h${i}`" class="hole" :d="h" />
      <clipPath id="cast-edge"><path :d="edge" /></clipPath>
      <g class="panels" clip-path="url(#cast-edge)">
        <path v-for="(p, i) in panels" :key="i" :class="{ image: p.image }" :d="p.d" />
      </g>
      <g class="grid">
        <g v-for="s in stations" :key="s.name">
          <line :x1="-s.half" :x2="s.half" :y1="-s.mm" :y2="-s.mm" />
          <text :x="-s.half + 4 * dot" :y="-s.mm - 4 * dot" :font-size="13 * dot">{{ s.name }}</text>
        </g>
        <path v-for="c in columns" :key="c.name" :d="c.d" />
      </g>
      <g
        v-for="l in lines"
        :key="l.stroke.key + (l.image ? '-image' : '')"
        class="stroke"
        :style="{ visibility: l.stroke.key === moving ? 'hidden' : undefined }"
        :class="[
          l.stroke.kind.replace(' ', '-'),
          { image: l.image, chosen: !l.image && l.stroke.key === chosen?.key },
        ]">
        <path v-if="l.stroke.lift > 0" class="crest" :d="l.d" :stroke-width="7 * dot" />
        <path
          class="seen"
          :d="l.d"
          :stroke-width="(l.stroke.kind === 'outline' || l.stroke.kind === 'seam' ? 2.6 : 1.8) * dot" />
        <path v-if="!l.image" class="grip" :d="l.d" :stroke-width="16 * dot" :data-stroke="l.stroke.key">
          <title>{{ l.stroke.name || l.stroke.kind }}</title>
        </path>
      </g>
      <path v-if="rubber" class="rubber" :d="rubber" :stroke-width="2.4 * dot" />
      <circle
        v-for="(p, i) in started"
        :key="`s${i}`"
        class="started"
        :cx="map.place(p)[0]"
        :cy="-map.place(p)[1]"
        :r="4 * dot" />
      <g
        v-for="p in panels"
        :key="`n${p.number}${p.image}`"
        class="number"
        :transform="`translate(${p.at[0]} ${-p.at[1]})`">
        <circle :r="15 * dot" />
        <text :font-size="19 * dot" :dy="6.5 * dot">{{ p.number }}</text>
      </g>
      <g
        v-for="(p, i) in problems"
        :key="`p${i}`"
        class="problem"
        :transform="`translate(${p.place[0]} ${-p.place[1]})`">
        <circle :r="17 * dot" :stroke-width="3 * dot" />
        <title>{{ p.message }}</title>
      </g>
      <circle
        v-for="d in dots"
        :key="`d${d.i}`"
        class="dot"
        :style="{ visibility: moving ? 'hidden' : undefined }"
        :class="{ at: chosen?.index === d.i }"
        :data-point="String(d.i)"
        :cx="d.at[0]"
        :cy="-d.at[1]"
        :r="(chosen?.index === d.i ? 8 : 6.5) * dot"
        :stroke-width="2 * dot" />
      <circle v-if="spot" class="spot" :cx="spot[0]" :cy="-spot[1]" :r="7 * dot" :stroke-width="2 * dot" />
    </svg>
    <canvas v-show="moving" ref="over" class="over" />
    <p v-if="said && (pen || chosen)" class="said">on {{ said }}</p>
  </div>
</template>

<style scoped src="./inkSheet.css"></style>
