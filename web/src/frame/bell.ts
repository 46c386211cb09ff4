let context: AudioContext | undefined;
let last = 0;

/** Two soft strokes, at most once in two seconds; silent where the browser has no sound yet. */
export function ring() {
  const now = Date.now();
  if (now - last < 2000 || typeof AudioContext === "undefined") return;
  last = now;
  context ??= new AudioContext();
  for (const [at, pitch] of [
    [0, 880],
    [0.35, 660],
  ] as const) {
    const tone = context.createOscillator();
    const volume = context.createGain();
    tone.frequency.value = pitch;
    volume.gain.setValueAtTime(0.35, context.currentTime + at);
    volume.gain.exponentialRampToValueAtTime(0.001, context.currentTime + at + 0.9);
    tone.connect(volume).connect(context.destination);
    tone.start(context.currentTime + at);
    tone.stop(context.currentTime + at + 1);
  }
}
