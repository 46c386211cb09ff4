import { CanvasTexture, RepeatWrapping, SRGBColorSpace } from "three";

/** Size of the pattern's repeat on the body, mm. */
export const TILE = 220;

/** Crossed strips of paper tape, drawn so that the picture repeats without a seam. */
export function tapeTexture(): CanvasTexture {
  const size = 512;
  const canvas = document.createElement("canvas");
  canvas.width = canvas.height = size;
  // Drawn once, by the processor: four hundred blurred shadows one by one keep a graphics card without hardware busy
  // for seconds.
  const pen = canvas.getContext("2d", { willReadFrequently: true })!;
  pen.fillStyle = "#dcbb80";
  pen.fillRect(0, 0, size, size);
  const random = seeded(7);
  for (let i = 0; i < 34; i++) strip(pen, size, random, i % 2 ? 0.13 : -0.2);
  for (let i = 0; i < 9; i++) strip(pen, size, random, 1.25);
  const texture = new CanvasTexture(canvas);
  texture.wrapS = texture.wrapT = RepeatWrapping;
  texture.colorSpace = SRGBColorSpace;
  texture.anisotropy = 1;
  return texture;
}

function strip(pen: CanvasRenderingContext2D, size: number, random: () => number, lean: number) {
  const length = size * (0.35 + random() * 0.35);
  const width = 54 + random() * 10;
  const x = random() * size;
  const y = random() * size;
  const angle = lean + (random() - 0.5) * 0.16;
  const light = 74 + random() * 8;
  const ends = Array.from({ length: 8 }, () => random() * 7);
  for (const dx of [-size, 0, size])
    for (const dy of [-size, 0, size]) {
      pen.save();
      pen.translate(x + dx, y + dy);
      pen.rotate(angle);
      pen.beginPath();
      pen.moveTo(-length / 2, -width / 2);
      pen.lineTo(length / 2, -width / 2);
      ends.slice(0, 4).forEach((e, i) => pen.lineTo(length / 2 + e - 3, -width / 2 + ((i + 1) * width) / 5));
      pen.lineTo(length / 2, width / 2);
      pen.lineTo(-length / 2, width / 2);
      ends.slice(4).forEach((e, i) => pen.lineTo(-length / 2 + e - 3, width / 2 - ((i + 1) * width) / 5));
      pen.closePath();
      pen.shadowColor = "rgba(90,60,15,0.35)";
      pen.shadowBlur = 5;
      pen.fillStyle = `hsl(39 52% ${light}%)`;
      pen.fill();
      pen.shadowColor = "transparent";
      pen.strokeStyle = "rgba(120,85,30,0.35)";
      pen.lineWidth = 1;
      pen.stroke();
      pen.strokeStyle = "rgba(255,246,220,0.25)";
      for (let k = -2; k <= 2; k++) {
        pen.beginPath();
        pen.moveTo(-length / 2, (k * width) / 5.5);
        pen.lineTo(length / 2, (k * width) / 5.5);
        pen.stroke();
      }
      pen.restore();
    }
}

function seeded(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state * 1664525 + 1013904223) % 4294967296;
    return state / 4294967296;
  };
}
