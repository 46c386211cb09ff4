<script setup lang="ts">
import { useResizeObserver } from "@vueuse/core";
import { onBeforeUnmount, onMounted, ref, watch } from "vue";
import type { EChartsType } from "echarts/core";
import { length, useUnit } from "./units";

/** One measure over its dated sets. */
const props = defineProps<{ dates: string[]; girths: number[]; word: string }>();
const { unit } = useUnit();
const box = ref<HTMLDivElement>();
let chart: EChartsType | undefined;

async function draw() {
  const { makeChart } = await import("./chart");
  if (!box.value) return;
  chart ??= makeChart(box.value);
  const ink = getComputedStyle(box.value).getPropertyValue("--verdigris").trim();
  const soft = getComputedStyle(box.value).getPropertyValue("--graphite-soft").trim();
  chart.setOption({
    animation: false,
    grid: { left: 4, right: 10, top: 8, bottom: 4 },
    xAxis: { type: "time", show: false },
    yAxis: { type: "value", scale: true, show: false },
    tooltip: {
      trigger: "axis",
      confine: true,
      formatter: (rows: { data: [string, number] }[]) =>
        `${rows[0].data[0]}<br><b>${length(rows[0].data[1], unit.value)}</b>`,
    },
    series: [
      {
        type: "line",
        data: props.dates.map((d, i) => [d, props.girths[i]]),
        symbolSize: 6,
        lineStyle: { color: soft, width: 1.5 },
        itemStyle: { color: ink },
      },
    ],
  });
}
onMounted(draw);
watch(() => [props.dates, props.girths, unit.value], draw);
useResizeObserver(box, () => chart?.resize());
onBeforeUnmount(() => chart?.dispose());
</script>

<template>
  <div ref="box" class="chart" role="img" :aria-label="`${word} over time`" />
</template>

<style scoped>
.chart {
  width: 100%;
  height: 44px;
}
</style>
