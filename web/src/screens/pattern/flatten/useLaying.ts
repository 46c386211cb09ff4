import { computed, ref, watch, type Ref } from "vue";
import type { DesignIn, Piece, Schemas } from "@/api/client";
import { useDesignChange } from "@/api/queries";
import { asCame, headOf, laidDown, onTable, takenUp, upOf, type Lie, type Place } from "./laying";

/** How long the arrow is that says which way is up, mm. */
const ARROW = 46;

/** Laying a panel down: a place on it, the same place on the body, and an arrow that is turned to where up is. */
export function useLaying(
  piece: Ref<Piece>,
  table: Ref<Schemas["FlatTableOut"] | undefined>,
  svg: Ref<SVGSVGElement | undefined>,
) {
  const on = ref(false);
  const held = ref<Pick<Lie, "panel" | "at"> | null>(null);
  const turning = ref<{ panel: number; up: number } | null>(null);
  const save = useDesignChange(piece);
  const lies = computed(() => (piece.value.design.flat?.lies ?? []) as Lie[]);
  const factor = computed(() => table.value?.factor ?? 1);
  const shift = (panel: number): Place => table.value?.panels.find((p) => p.number === panel)?.moved ?? [0, 0];

  watch(
    () => piece.value.id,
    () => ((on.value = false), (held.value = turning.value = null)),
  );

  function keep(change: (now: Lie[]) => Lie[]) {
    save(
      (now) => ({ ...now, flat: { ...now.flat!, lies: change([...((now.flat!.lies ?? []) as Lie[])]) } }) as DesignIn,
    );
  }

  function here(event: MouseEvent): Place {
    const p = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.value!.getScreenCTM()!.inverse());
    return [p.x, -p.y];
  }

  return {
    on,
    held,
    lies,
    begin: () => ((on.value = !on.value), (held.value = null)),
    hold(panel: number, event: MouseEvent) {
      if (on.value) held.value = { panel, at: asCame(here(event), shift(panel), factor.value) };
    },
    land([around, along]: [number, number]) {
      const lie = held.value;
      if (!on.value || !lie) return;
      const up = lies.value.find((x) => x.panel === lie.panel)?.up ?? 0;
      keep((now) => laidDown(now, { ...lie, around, along, up }));
      on.value = false;
      held.value = null;
    },
    turn: (panel: number, up: number) => keep((now) => now.map((x) => (x.panel === panel ? { ...x, up } : x))),
    takeUp: (panel: number) => keep((now) => takenUp(now, panel)),
    grasp: (lie: Lie) => (turning.value = { panel: lie.panel, up: lie.up }),
    swing(lie: Lie, event: PointerEvent) {
      if (turning.value?.panel !== lie.panel) return;
      turning.value = { panel: lie.panel, up: upOf(onTable(lie.at, shift(lie.panel), factor.value), here(event)) };
    },
    letGo() {
      const last = turning.value;
      turning.value = null;
      if (last) keep((now) => now.map((x) => (x.panel === last.panel ? { ...x, up: last.up } : x)));
    },
    heldAt: computed(() => held.value && onTable(held.value.at, shift(held.value.panel), factor.value)),
    /** What is drawn of each panel that was laid down: where it was touched, and the arrow's head. */
    arrows: computed(() =>
      lies.value
        .filter((x) => table.value?.panels.some((p) => p.number === x.panel))
        .map((lie) => {
          const from = onTable(lie.at, shift(lie.panel), factor.value);
          const up = turning.value?.panel === lie.panel ? turning.value.up : lie.up;
          return { lie, from, to: headOf(from, up, ARROW) };
        }),
    ),
  };
}
