/**
 * Ink that moves, painted on a plain canvas over the sheet. A path that changes in an SVG is cut up anew by the
 * graphics driver at every frame, a tenth of a second each where that is done in software; this takes a few
 * milliseconds.
 */
export interface MovingLine {
  d: string;
  points: readonly (readonly [number, number])[];
  colour: string;
  width: number;
  faint: boolean;
}

export interface MovingDot {
  at: readonly [number, number];
  held: boolean;
}

const GRID = 48;
const ROOM = 46;
/**
 * The canvas covers what moves and little more, in steps of so many pixels: the less it covers, the less is drawn
 * anew.
 */
function cover(canvas: HTMLCanvasElement, x: number[], y: number[], most: DOMRect) {
  const left = Math.max(0, Math.floor((Math.min(...x) - ROOM) / GRID) * GRID);
  const top = Math.max(0, Math.floor((Math.min(...y) - ROOM) / GRID) * GRID);
  const right = Math.min(most.width, Math.ceil((Math.max(...x) + ROOM) / GRID) * GRID);
  const bottom = Math.min(most.height, Math.ceil((Math.max(...y) + ROOM) / GRID) * GRID);
  const ratio = window.devicePixelRatio || 1;
  const [wide, high] = [Math.max(1, right - left), Math.max(1, bottom - top)];
  const size = [Math.round(wide * ratio), Math.round(high * ratio)];
  if (canvas.width !== size[0]) canvas.width = size[0];
  if (canvas.height !== size[1]) canvas.height = size[1];
  Object.assign(canvas.style, { left: `${left}px`, top: `${top}px`, width: `${wide}px`, height: `${high}px` });
  return { left, top, ratio };
}

/** said: written beside the held point. dot: a screen pixel in the sheet's mm. */
export function paintMoving(
  canvas: HTMLCanvasElement,
  svg: SVGSVGElement,
  lines: MovingLine[],
  dots: MovingDot[],
  said: string,
  dot: number,
) {
  const pen = canvas.getContext("2d", { willReadFrequently: true });
  const matrix = svg.getScreenCTM();
  if (!pen || !matrix) return;
  const box = svg.getBoundingClientRect();
  const [dx, dy] = [matrix.e - box.left, matrix.f - box.top];
  const all = lines.flatMap((line) => line.points);
  const { left, top, ratio } = cover(
    canvas,
    all.map((p) => matrix.a * p[0] + dx),
    all.map((p) => -matrix.d * p[1] + dy),
    box,
  );
  pen.resetTransform();
  pen.clearRect(0, 0, canvas.width, canvas.height);
  pen.setTransform(matrix.a * ratio, 0, 0, matrix.d * ratio, (dx - left) * ratio, (dy - top) * ratio);
  pen.lineCap = pen.lineJoin = "round";
  const style = getComputedStyle(svg);
  for (const line of lines) {
    pen.globalAlpha = line.faint ? 0.45 : 1;
    pen.strokeStyle = style.getPropertyValue(line.colour);
    pen.lineWidth = line.width;
    pen.stroke(new Path2D(line.d));
  }
  pen.globalAlpha = 1;
  pen.lineWidth = 2 * dot;
  for (const { at, held } of dots) {
    pen.beginPath();
    pen.arc(at[0], -at[1], (held ? 8 : 6.5) * dot, 0, 2 * Math.PI);
    pen.strokeStyle = style.getPropertyValue("--oxide");
    pen.fillStyle = style.getPropertyValue(held ? "--oxide" : "--sheet");
    pen.fill();
    pen.stroke();
    if (held) write(pen, style, said, at[0], -at[1], dot);
  }
}

function write(
  pen: CanvasRenderingContext2D,
  style: CSSStyleDeclaration,
  said: string,
  x: number,
  y: number,
  dot: number,
) {
  pen.font = `600 ${15 * dot}px ${style.getPropertyValue("--sans")}`;
  const wide = pen.measureText(said).width;
  const left = x + (x > 0 ? -wide - 22 * dot : 22 * dot);
  pen.fillStyle = style.getPropertyValue("--sheet");
  pen.fillRect(left - 6 * dot, y - 34 * dot, wide + 12 * dot, 24 * dot);
  pen.fillStyle = style.getPropertyValue("--graphite");
  pen.fillText(said, left, y - 17 * dot);
}
