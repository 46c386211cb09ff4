import { BufferGeometry, Float32BufferAttribute, Vector3 } from "three";

/** A flat band along a line, its face away from the body beneath it. width: mm. */
export function ribbon(points: readonly (readonly number[])[], body: readonly BufferGeometry[], width: number) {
  const line = points.map((p) => new Vector3(p[0], p[1], p[2]));
  const positions: number[] = [];
  const faces: number[] = [];
  line.forEach((p, i) => {
    const along = line[Math.min(i + 1, line.length - 1)]
      .clone()
      .sub(line[Math.max(i - 1, 0)])
      .normalize();
    const out = normalAt(p, body);
    const aside = along
      .clone()
      .cross(out)
      .normalize()
      .multiplyScalar(width / 2);
    const lifted = p.clone().addScaledVector(out, 4);
    for (const q of [lifted.clone().add(aside), lifted.clone().sub(aside)]) positions.push(q.x, q.y, q.z);
    if (i) faces.push(2 * i - 2, 2 * i - 1, 2 * i, 2 * i, 2 * i - 1, 2 * i + 1);
  });
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new Float32BufferAttribute(positions, 3));
  geometry.setIndex(faces);
  geometry.computeVertexNormals();
  return geometry;
}

/** The way the body faces where it is nearest. */
function normalAt(p: Vector3, body: readonly BufferGeometry[]): Vector3 {
  let least = Infinity;
  const best = new Vector3(0, -1, 0);
  for (const geometry of body) {
    const at = geometry.getAttribute("position").array;
    const way = geometry.getAttribute("normal").array;
    for (let i = 0; i < at.length; i += 3) {
      const d = (at[i] - p.x) ** 2 + (at[i + 1] - p.y) ** 2 + (at[i + 2] - p.z) ** 2;
      if (d < least) {
        least = d;
        best.set(way[i], way[i + 1], way[i + 2]);
      }
    }
  }
  return best;
}
