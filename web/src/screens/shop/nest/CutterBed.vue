<script setup lang="ts">
import { useElementSize } from "@vueuse/core";
import { computed, ref, watchEffect } from "vue";
import type { Schemas } from "@/api/client";
import { UP, type Now } from "./cutterPlay";

/** The cutter's bed from above: what is to be cut as a faint line, what is cut as a bright one, and the tool. */
const props = defineProps<{
  made: Schemas["PlayedOut"];
  now: Now;
  dry: boolean;
  seconds: number;
}>();
const canvas = ref<HTMLCanvasElement>();
const room = ref<HTMLElement>();
const { width } = useElementSize(room);
const PAD = 14;
const ratio = computed(() => props.made.size[1]! / props.made.size[0]!);
const shown = computed(() => {
  const high = Math.min(440, (width.value - 2 * PAD) * ratio.value + 2 * PAD);
  return { wide: width.value, high, scale: (high - 2 * PAD) / props.made.size[1]! };
});

const FAINT = { pen: "#8b8272", knife: "#8d949c" };
const DONE = { pen: "#e2ad4b", knife: "#f6f1e6", dry: "#7cc9c1" };

function lines(paint: CanvasRenderingContext2D, start: number, end: number, knife: boolean) {
  const events = props.made.events;
  paint.beginPath();
  let open = false;
  for (let k = Math.max(1, start); k < end; k++) {
    const [, x, y, depth] = events[k]!;
    if (depth === UP || depth! > 0 !== knife) {
      open = false;
      continue;
    }
    if (!open) paint.moveTo(events[k - 1]![1]!, events[k - 1]![2]!);
    paint.lineTo(x!, y!);
    open = true;
  }
  paint.stroke();
}

watchEffect(() => {
  const board = canvas.value;
  if (!board || !shown.value.wide) return;
  const dots = window.devicePixelRatio || 1;
  const { wide, high, scale } = shown.value;
  board.width = Math.round(wide * dots);
  board.height = Math.round(high * dots);
  const paint = board.getContext("2d")!;
  const left = (wide - props.made.size[0]! * scale) / 2;
  paint.setTransform(dots * scale, 0, 0, -dots * scale, dots * left, dots * (high - PAD));
  paint.fillStyle = "#3b3f45";
  paint.fillRect(0, 0, props.made.size[0]!, props.made.size[1]!);
  const thin = 1 / scale;
  const many = props.made.events.length;
  for (const knife of [false, true]) {
    paint.lineWidth = thin;
    paint.strokeStyle = FAINT[knife ? "knife" : "pen"];
    lines(paint, 1, many, knife);
    paint.lineWidth = (knife ? 2.6 : 1.6) * thin;
    paint.strokeStyle = props.dry ? DONE.dry : DONE[knife ? "knife" : "pen"];
    lines(paint, 1, props.now.next, knife);
  }
  const last = props.made.events[Math.max(0, props.now.next - 1)]!;
  if (props.now.depth !== UP) {
    paint.beginPath();
    paint.moveTo(last[1]!, last[2]!);
    paint.lineTo(props.now.x, props.now.y);
    paint.stroke();
  }
  paint.beginPath();
  paint.fillStyle = props.now.depth === UP || props.dry ? "#cfe0da" : "#e2ad4b";
  paint.strokeStyle = "#1b1918";
  paint.lineWidth = 1.5 * thin;
  paint.arc(props.now.x, props.now.y, 8 * thin, 0, 7);
  paint.fill();
  paint.stroke();
});
</script>

<template>
  <div ref="room" class="bed">
    <canvas
      ref="canvas"
      :style="{ width: `${shown.wide}px`, height: `${shown.high}px` }"
      role="img"
      :aria-label="`The sheet on the cutter's bed, ${Math.round((100 * seconds) / made.seconds)} % done`" />
  </div>
</template>

<style scoped>
.bed {
  flex: none;
  overflow: hidden;
  border-radius: 6px;
  background: repeating-linear-gradient(45deg, var(--vellum-deep) 0 14px, var(--vellum) 14px 28px);
}

canvas {
  display: block;
}
</style>
