import { createRouter, createWebHistory } from "vue-router";

/** The piece: what each label opens, in the order makers work. */
export const STAGES = [
  { name: "wearer", word: "Wearer", hint: "measure the body" },
  { name: "wrap", word: "Wrap", hint: "plan the cast" },
  { name: "trace", word: "Trace", hint: "photograph a cast, measure it" },
  { name: "ink", word: "Ink", hint: "draw it on the cast" },
  { name: "flatten", word: "Flatten", hint: "lay it flat in foam" },
  { name: "foam", word: "Foam", hint: "edges, folds, bends, layers" },
  { name: "cut", word: "Cut", hint: "print and cut" },
  { name: "bench", word: "Bench", hint: "make it, step by step" },
  { name: "finish", word: "Finish", hint: "zones and layers of paint" },
  { name: "rig", word: "Rig", hint: "its straps, openings, magnets" },
  { name: "fit", word: "Fit", hint: "try it on, keep its patterns" },
] as const;
/** Of a part with measures of its own: nothing is drawn on the body, and it is fixed to something else. */
export const OF_A_SHAPE: readonly string[] = ["wearer", "flatten", "foam", "cut", "bench", "finish", "fit"];
/** The costume: what speaks of all of it. */
export const COSTUME = [
  { name: "together", word: "All steps", hint: "the bench of the whole costume" },
  { name: "cut-list", word: "Cut list", hint: "every part that is cut" },
  { name: "nest", word: "Nest", hint: "all parts on their sheets" },
  { name: "supplies", word: "Supplies", hint: "what to buy, and what it costs" },
  { name: "worn", word: "Worn", hint: "move in it, get dressed, pack it" },
  { name: "workshop", word: "Workshop", hint: "what you have, how fast you work" },
  { name: "logbook", word: "Logbook", hint: "notes on the whole build" },
] as const;

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: "/", name: "builds", component: () => import("@/screens/keeping/builds/BuildsScreen.vue") },
    { path: "/keeping", name: "keeping", component: () => import("@/screens/keeping/KeepingScreen.vue") },
    {
      path: "/build/:build(\\d+)",
      children: [
        { path: "wearer", name: "wearer", component: () => import("@/screens/body/wearer/WearerScreen.vue") },
        { path: "wrap", name: "wrap", component: () => import("@/screens/body/WrapScreen.vue") },
        { path: "scan", name: "scan", component: () => import("@/screens/body/scan/ScanScreen.vue") },
        { path: "regrade", name: "regrade", component: () => import("@/screens/pattern/RegradeScreen.vue") },
        { path: "trace", name: "trace", component: () => import("@/screens/body/trace/TraceScreen.vue") },
        { path: "ink", name: "ink", component: () => import("@/screens/pattern/ink/InkScreen.vue") },
        { path: "flatten", name: "flatten", component: () => import("@/screens/pattern/TableScreen.vue") },
        { path: "foam", name: "foam", component: () => import("@/screens/making/foam/FoamScreen.vue") },
        { path: "heat", name: "heat", component: () => import("@/screens/making/HeatScreen.vue") },
        { path: "cut", name: "cut", component: () => import("@/screens/pattern/CutScreen.vue") },
        { path: "bench", name: "bench", component: () => import("@/screens/making/bench/BenchScreen.vue") },
        { path: "finish", name: "finish", component: () => import("@/screens/making/finish/FinishScreen.vue") },
        { path: "rig", name: "rig", component: () => import("@/screens/rigging/RigScreen.vue") },
        { path: "fit", name: "fit", component: () => import("@/screens/rigging/FitScreen.vue") },
        { path: "together", name: "together", component: () => import("@/screens/making/TogetherScreen.vue") },
        { path: "cut-list", name: "cut-list", component: () => import("@/screens/shop/CutListScreen.vue") },
        { path: "nest", name: "nest", component: () => import("@/screens/shop/nest/NestScreen.vue") },
        { path: "cutter", name: "cutter", component: () => import("@/screens/shop/nest/CutterScreen.vue") },
        { path: "supplies", name: "supplies", component: () => import("@/screens/shop/supplies/SuppliesScreen.vue") },
        { path: "worn", name: "worn", component: () => import("@/screens/rigging/WornScreen.vue") },
        { path: "workshop", name: "workshop", component: () => import("@/screens/making/WorkshopScreen.vue") },
        { path: "logbook", name: "logbook", component: () => import("@/screens/keeping/LogbookScreen.vue") },
      ],
    },
    { path: "/:rest(.*)*", redirect: "/" },
  ],
});
