import type { Flat } from "@/api/client";
import type { ColorTable } from "./strainBands";

export interface Sheet {
  panel: Flat;
  x: number;
  y: number;
  outline: string;
  moving?: boolean;
}

export interface View {
  /** The drawing's box in mm: left, top, width, height. */
  box: [number, number, number, number];
  zoom: { x: number; y: number; k: number };
}

const SHADE = "rgba(60, 45, 20, 0.13)";
const PAPER = "#fbf8f1";
/** Samples a dot each way, averaged, so bands have smooth edges; one while the panel moves under the hand. */
const FINE = 2;
const QUICK = 1;

/**
 * Paint the paper and its strain under the drawing's lines: a plain bitmap, painted once an edit and not at every
 * frame. The fit is that of an SVG viewBox, centred.
 */
export function paintSheets(canvas: HTMLCanvasElement, sheets: Sheet[], view: View, colors: ColorTable | null) {
  const pen = canvas.getContext("2d", { willReadFrequently: true });
  if (!pen) return;
  const dots = window.devicePixelRatio || 1;
  const size = [canvas.clientWidth * dots, canvas.clientHeight * dots];
  // A canvas that is given its size again is made again.
  if (canvas.width !== size[0] || canvas.height !== size[1]) [canvas.width, canvas.height] = size;
  pen.setTransform(1, 0, 0, 1, 0, 0);
  pen.clearRect(0, 0, canvas.width, canvas.height);
  const [left, top, wide, high] = view.box;
  const fit = Math.min(canvas.width / wide, canvas.height / high);
  const { x, y, k } = view.zoom;
  const grown = fit * k;
  const atX = (canvas.width - wide * fit) / 2 + (x - left) * fit;
  const atY = (canvas.height - high * fit) / 2 + (y - top) * fit;
  for (const sheet of sheets) {
    const place = { size: grown, x: atX + sheet.x * grown, y: atY + sheet.y * grown };
    paintPaper(pen, sheet, place);
    if (colors) paintStrain(pen, sheet, place, colors);
  }
}

interface Place {
  size: number;
  x: number;
  y: number;
}

function paintPaper(pen: CanvasRenderingContext2D, sheet: Sheet, at: Place) {
  const outline = new Path2D(sheet.outline);
  for (const by of [2.2, 1, 0]) {
    pen.setTransform(at.size, 0, 0, at.size, at.x + (by / 2) * at.size, at.y + by * at.size);
    pen.fillStyle = by ? SHADE : PAPER;
    pen.fill(outline, "evenodd");
  }
}

/** Colour every dot of every triangle by the band its own strain lies in. */
function paintStrain(pen: CanvasRenderingContext2D, { panel, moving }: Sheet, at: Place, colors: ColorTable) {
  const fine = moving ? QUICK : FINE;
  const size = at.size * fine;
  const points = panel.vertices.map(([x, y]) => [at.x * fine + x * size, at.y * fine - y * size]);
  const low = [0, 1].map((k) => Math.max(0, Math.floor(Math.min(...points.map((p) => p[k])) / fine) * fine));
  const limit = [pen.canvas.width * fine, pen.canvas.height * fine];
  const high = [0, 1].map((k) => Math.min(limit[k], Math.ceil(Math.max(...points.map((p) => p[k])) / fine) * fine));
  const [width, height] = [high[0] - low[0], high[1] - low[1]];
  if (width <= 0 || height <= 0) return;
  const picture = new ImageData(width, height);
  const dots = new Uint32Array(picture.data.buffer);
  for (const [i, j, k] of panel.faces) {
    const corners = [points[i], points[j], points[k]].map((p) => [p[0] - low[0], p[1] - low[1]]);
    fillTriangle(dots, width, height, corners, [panel.strain[i], panel.strain[j], panel.strain[k]], colors);
  }
  const layer = new OffscreenCanvas(width, height);
  layer.getContext("2d", { willReadFrequently: true })!.putImageData(picture, 0, 0);
  pen.setTransform(1, 0, 0, 1, 0, 0);
  pen.imageSmoothingQuality = "high";
  pen.drawImage(layer, low[0] / fine, low[1] / fine, width / fine, height / fine);
}

/** Row by row; along a row the place in the triangle and the strain both change by even steps. */
function fillTriangle(
  dots: Uint32Array,
  width: number,
  height: number,
  corners: number[][],
  strain: number[],
  colors: ColorTable,
) {
  const [[ax, ay], [bx, by], [cx, cy]] = corners;
  const whole = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
  if (!whole) return;
  const [stepV, stepW] = [(cy - ay) / whole, -(by - ay) / whole];
  const stepS = stepV * (strain[1] - strain[0]) + stepW * (strain[2] - strain[0]);
  const fromX = Math.max(0, Math.ceil(Math.min(ax, bx, cx)));
  const toX = Math.min(width - 1, Math.floor(Math.max(ax, bx, cx)));
  const toY = Math.min(height - 1, Math.floor(Math.max(ay, by, cy)));
  for (let y = Math.max(0, Math.ceil(Math.min(ay, by, cy))); y <= toY; y++) {
    let v = ((fromX - ax) * (cy - ay) - (y - ay) * (cx - ax)) / whole;
    let w = ((bx - ax) * (y - ay) - (by - ay) * (fromX - ax)) / whole;
    let s = strain[0] + v * (strain[1] - strain[0]) + w * (strain[2] - strain[0]);
    for (let x = fromX; x <= toX; x++, v += stepV, w += stepW, s += stepS) {
      if (v < 0 || w < 0 || v + w > 1) continue;
      const at = Math.max(0, Math.min(colors.last, Math.round((s + colors.reach) * colors.perCent)));
      if (colors.over[at] && (x + y) % 12 < 3) continue;
      dots[y * width + x] = colors.paint[at];
    }
  }
}
