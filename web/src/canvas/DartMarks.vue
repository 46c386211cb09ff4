<script setup lang="ts">
import type { Flat } from "@/api/client";
import { useUnit } from "@/parts/units";

/** Names, widths and tips of a flat panel's darts. grown: how much larger than drawn words must be. fit: px a mm. */
const props = defineProps<{ darts: Flat["darts"]; grown: number; fit: number }>();
const emit = defineEmits<{ near: [] }>();
const { show } = useUnit();

/** A short dart has room for its number alone. */
const NAMED_FROM = 90;
const nameFor = ({ name, mouth, tip }: Flat["darts"][number]) =>
  Math.hypot(mouth[0] - tip[0], mouth[1] - tip[1]) * props.fit < NAMED_FROM ? (/\d+$/.exec(name)?.[0] ?? name) : name;
/** The width at a dart's mouth is written in it, or beside it where it is narrow. */
const WIDE_MOUTH = 70;
function atMouth({ mouth, tip, intake }: Flat["darts"][number]) {
  if (intake * props.fit > WIDE_MOUTH)
    return { transform: words(0.88 * mouth[0] + 0.12 * tip[0], -(0.88 * mouth[1] + 0.12 * tip[1]) + 3) };
  const [dx, dy] = [mouth[0] - tip[0], mouth[1] - tip[1]].map(
    (d) => d / Math.hypot(mouth[0] - tip[0], mouth[1] - tip[1]),
  );
  const anchor = dx > 0.4 ? "start" : dx < -0.4 ? "end" : "middle";
  return {
    transform: words(mouth[0] + 7 * props.grown * dx, -(mouth[1] + 9 * props.grown * dy) + 3),
    style: { textAnchor: anchor } as const,
  };
}
const words = (x: number, y: number) => `translate(${x} ${y}) scale(${props.grown})`;
</script>

<template>
  <g v-for="d in darts" :key="d.key" class="dart" :class="{ over: d.angle < 0 }">
    <text :transform="words(d.mouth[0] * 0.55 + d.tip[0] * 0.45, -(d.mouth[1] * 0.55 + d.tip[1] * 0.45))">
      {{ nameFor(d) }}
    </text>
    <text class="intake" v-bind="atMouth(d)">{{ show(Math.round(Math.abs(d.intake))) }}</text>
    <circle class="grip" :cx="d.tip[0]" :cy="-d.tip[1]" r="13" :data-dart="d.key" @pointerenter="emit('near')">
      <title>Drag the tip of {{ d.name }}</title>
    </circle>
    <circle class="tip" :cx="d.tip[0]" :cy="-d.tip[1]" r="4.2" />
  </g>
</template>

<style scoped>
text {
  fill: #2e2c2a;
  font: 6.6px var(--sans);
  user-select: none;
  pointer-events: none;
}

.dart text {
  font: 700 9px var(--slab);
  text-anchor: middle;
  paint-order: stroke;
  stroke: #fbf8f1;
  stroke-width: 3px;
}

.dart .intake {
  font: 700 9px var(--sans);
}

.dart .tip {
  fill: var(--oxide);
  pointer-events: none;
}

.dart .grip {
  fill: transparent;
  cursor: move;
}

.dart.over .tip {
  fill: var(--plum);
}
</style>
