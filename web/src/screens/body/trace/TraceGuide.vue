<script setup lang="ts">
/** How a photograph is taken that can be measured: a drawing, and six lines. */
</script>

<template>
  <div class="guide sheet">
    <svg viewBox="0 0 420 250" role="img" aria-label="A cut-open cast on a plain cloth, a marker card at each corner">
      <rect class="cloth" x="6" y="6" width="408" height="238" rx="4" />
      <path
        class="shadow"
        d="M128 64C170 46 214 50 232 88C244 76 276 68 300 74
        C316 110 314 160 302 206L214 210L205 142L196 210L122 204C112 160 112 104 128 64Z" />
      <path
        class="cast"
        d="M124 60C166 42 210 46 228 84C240 72 272 64 296 70
        C312 106 310 156 298 202L210 206L201 138L192 206L118 200C108 156 108 100 124 60Z" />
      <path class="strip" d="M116 92L306 128M112 150L310 108M122 184L300 172M150 54L168 204M262 70L240 206" />
      <path class="ink" d="M142 82C150 120 150 150 142 184" />
      <g
        v-for="(c, k) in [
          [58, 46, 12],
          [362, 50, -20],
          [52, 200, -8],
          [368, 198, 24],
        ]"
        :key="k"
        :transform="`translate(${c[0]} ${c[1]}) rotate(${c[2]})`">
        <rect class="paper" x="-26" y="-26" width="52" height="52" />
        <rect class="black" x="-20" y="-20" width="40" height="40" />
        <path class="white" d="M-13 -13h7v7h-7zM0 -13h13v7h-6v6h-7zM-6 0h6v13h-6zM7 7h6v6h-6z" />
      </g>
    </svg>
    <div class="how">
      <h3>Nothing photographed yet</h3>
      <p class="soft">
        Lay the cut-open cast on the floor among the cards and photograph it: no tracing on to paper, nothing lost at
        every copy.
      </p>
      <ol>
        <li><b>Print the cards</b> and cut them out. Four at least, anywhere round the piece; flat, none bent.</li>
        <li><b>Plain ground</b> of another colour than the tape: one photograph is enough.</li>
        <li>
          <b>Newspaper, carpet, planks, tiles:</b> two. First the floor with its cards (<i>Floor first</i>), then the
          pieces laid among them, no card pushed.
        </li>
        <li><b>Everything in view</b>: the whole piece and all cards, with room round them.</li>
        <li><b>Light from the side</b>, no flash, no shine on an edge or a card.</li>
        <li><b>From above</b>, held still. A tilt of up to 35° is measured out of it.</li>
      </ol>
    </div>
  </div>
</template>

<style scoped>
.guide {
  display: grid;
  grid-template-columns: minmax(0, 5fr) minmax(260px, 4fr);
  gap: 26px;
  align-items: center;
  padding: 18px 26px;
}

svg {
  width: 100%;
  max-height: 330px;
}

.cloth {
  fill: color-mix(in srgb, var(--verdigris) 30%, var(--foam));
}

.shadow {
  fill: rgb(0 0 0 / 28%);
}

.cast {
  fill: var(--tape);
  stroke: var(--tape-deep);
}

.strip {
  fill: none;
  stroke: var(--tape-deep);
  stroke-width: 0.8;
  opacity: 0.7;
}

.ink {
  fill: none;
  stroke: var(--plum);
  stroke-width: 2.5;
}

.paper,
.white {
  fill: #fbf8f1;
}

.black {
  fill: #22201f;
}

.how {
  display: grid;
  gap: 10px;
}

ol {
  display: grid;
  gap: 7px;
  margin: 0;
  padding-left: 22px;
  font-size: 17px;
}

@media (max-width: 900px) {
  .guide {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
