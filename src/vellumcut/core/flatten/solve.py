"""Flattening: SLIM on the symmetric Dirichlet energy, then a polish against true surface lengths.

Sources: Rabinovich, Poranne, Panozzo, Sorkine-Hornung, "Scalable locally injective mappings", 2017;
Liu, Zhang, Xu, Gotsman, Gortler, "A local/global approach to mesh parameterization", 2008.
SLIM works on the straight sides of the mesh; the polish replaces them by lengths along the surface.
Near an isometry both energies agree to second order, so the polish moves the answer, not the goal.
"""

from collections.abc import Callable
from dataclasses import dataclass

import igl
import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csc_matrix, csr_matrix
from scipy.sparse.linalg import SuperLU, splu

from vellumcut.core.errors import CraftError

Array = NDArray[np.float64]
Index = NDArray[np.int32]
Complex = NDArray[np.complex128]

MOST_ITERATIONS = 90
ENERGY_STILL = 0.06
"""Stop when an iteration lowers the energy above that of an undistorted sheet by less than this share; the rounds
after it finish the work, and a stricter stop moves no point by more than 0.03 mm."""
FAR_STILL = 0.015
"""The same for a start far from the answer, where the solver creeps before it runs."""
ENERGY_NOISE = 1e-6
"""An iteration that lowers the energy by less changes no length by a twentieth of a per cent."""
UNDISTORTED = 4.0
POLISH_ROUNDS = 4
MOST_ROUNDS = 300
STILL = 0.02
"""Rounds rest when no point moves by more in one, mm; a slit's opening then stands to 0.2 mm (thirty to sixty
rounds)."""
RANK_STILL = 0.3
"""The same where slits are only ranked."""
EVEN_ROUNDS = 5
STRAIN_FLOOR = 2e-3
"""Strain below this does not matter in foam; it keeps the weights of a developable panel equal."""


HOLD = 60.0
"""How much harder than a face resists an edge is kept to a length it is held to."""


@dataclass(frozen=True)
class Hold:
    """Mesh edges that must have given lengths when flat. pairs: (k, 2) vertices. lengths: (k,) mm."""

    pairs: Index
    lengths: Array


NO_HOLD = Hold(np.zeros((0, 2), dtype=np.int32), np.zeros(0))


@dataclass(frozen=True)
class RestShape:
    """Each face laid flat on its own. corners: (m, 3, 2) mm. area: (m,) mm2. inverse: (m, 2, 2) of its two sides."""

    faces: Index
    corners: Array
    area: Array
    inverse: Array

    @property
    def sides(self) -> Array:
        """(m, 3, 2) mm, each opposite its corner."""
        return np.stack([self.corners[:, (k + 2) % 3] - self.corners[:, (k + 1) % 3] for k in range(3)], axis=1)

    @property
    def cotangents(self) -> Array:
        """(m, 3) of the angles opposite the sides."""
        sides = self.sides
        cot = np.stack([-(sides[:, (k + 1) % 3] * sides[:, (k + 2) % 3]).sum(axis=1) for k in range(3)], axis=1)
        return np.asarray(cot / (2 * self.area[:, None]))

    def jacobians(self, flat: Array) -> Array:
        """(m, 2, 2) matrices of the map body -> flat for each face."""
        origin = flat[self.faces[:, 0]]
        drawn = np.stack([flat[self.faces[:, 1]] - origin, flat[self.faces[:, 2]] - origin], axis=2)
        return np.asarray(drawn @ self.inverse)


def rest_shape(faces: Index, lengths: Array) -> RestShape:
    """(m, 3) side lengths opposite each corner, mm -> faces laid flat, first corner at 0, second on +x."""
    a, b, c = lengths.T
    x = (b**2 + c**2 - a**2) / (2 * c)
    y = np.sqrt(np.maximum(b**2 - x**2, 1e-12))
    corners, inverse = np.zeros((len(lengths), 3, 2)), np.zeros((len(lengths), 2, 2))
    corners[:, 1, 0], corners[:, 2, 0], corners[:, 2, 1] = c, x, y
    inverse[:, 0, 0], inverse[:, 0, 1], inverse[:, 1, 1] = 1 / c, -x / (c * y), 1 / y
    return RestShape(faces, corners, 0.5 * c * y, inverse)


def flatten_mesh(xyz: Array, rest: RestShape, start: Array, far: bool = False) -> Array:
    """Lay a disc-shaped mesh flat. xyz: (n, 3) mm. rest: true shapes of its faces. start: (n, 2) unflipped mm.
    far: whether the start is only roughly the answer.

    Returns (n, 2) in mm. Raises CraftError when a face would flip.
    """
    solved = _slim(xyz, rest.faces, start, FAR_STILL if far else ENERGY_STILL)
    flat = _even_out(solved, rest, settle=far)
    if flips(flat, rest):
        # Spreading the strain is not kept from flipping a face where a panel is asked far too much; the solver is.
        flat = solved
    if flips(flat, rest):
        raise CraftError("The panel folds over itself when laid flat; make it shorter or open the back wider", "design")
    return flat


def flatten_near(xyz: Array, rest: RestShape, start: Array, chart: Array) -> Array:
    """Lay a mesh flat from where it nearly lies, or lay before it was slit. Shapes and errors as ``flatten_mesh``.

    chart: (n, 2) mm without a flipped face, to begin from where all else fails. A start taken from a rough mesh may
    hold flipped faces at its rim; the rounds turn them back.

    Local/global rounds: a slit's sides swing open by turning whole, which the solver does in small steps
    (docs/decisions/0017). The solver takes over where they would flip a face.
    """
    solver = _Rounds(rest, NO_HOLD, len(start))
    settled = solver.settle(start)
    if flips(settled, rest):
        return flatten_mesh(xyz, rest, chart if flips(start, rest) else start, far=True)
    spread = _spread(solver, settled)
    return settled if flips(spread, rest) else spread


def open_roughly(rest: RestShape, start: Array) -> Array:
    """As ``flatten_near``, only well enough to rank slits, and with flipped faces where it cannot be helped."""
    return _Rounds(rest, NO_HOLD, len(start)).settle(start, RANK_STILL)


def flips(flat: Array, rest: RestShape) -> bool:
    """Whether any face lies upside down."""
    return bool(np.any(determinants(rest.jacobians(flat)) <= 0))


def _slim(xyz: Array, faces: Index, start: Array, still: float) -> Array:
    straight = rest_shape(faces, _straight_sides(xyz, faces))
    data = igl.slim_precompute(
        np.asfortranarray(xyz),
        np.asfortranarray(faces),
        np.asfortranarray(start),
        igl.MappingEnergyType.SYMMETRIC_DIRICHLET,
        np.zeros(0, dtype=np.int32),
        np.zeros((0, 2), order="F"),
        0.0,
    )
    energy, flat = np.inf, start
    for _ in range(MOST_ITERATIONS):
        flat = np.array(igl.slim_solve(data, 1))[:, :2]
        now = symmetric_dirichlet(flat, straight)
        if energy - now < still * (now - UNDISTORTED) + ENERGY_NOISE:
            break
        energy = now
    return flat


def symmetric_dirichlet(flat: Array, rest: RestShape) -> float:
    """Area-weighted mean of s1^2 + s2^2 + 1/s1^2 + 1/s2^2; 4 when nothing is stretched or squeezed."""
    j = rest.jacobians(flat)
    square = (j**2).sum(axis=(1, 2))
    return float(((square + square / determinants(j) ** 2) * rest.area).sum() / rest.area.sum())


def determinants(j: Array) -> Array:
    """(m, 2, 2) -> (m,)."""
    return np.asarray(j[:, 0, 0] * j[:, 1, 1] - j[:, 0, 1] * j[:, 1, 0])


def face_strain(j: Array) -> Array:
    """(m, 2, 2) maps body -> flat -> (m, 2): what foam must stretch and be squeezed to close, shares >= 0.

    With singular values s: stretch 1/s - 1 where s < 1, squeeze 1 - 1/s where s > 1.
    """
    along = np.hypot(j[:, 0, 0] + j[:, 1, 1], j[:, 1, 0] - j[:, 0, 1]) / 2
    across = np.hypot(j[:, 0, 0] - j[:, 1, 1], j[:, 1, 0] + j[:, 0, 1]) / 2
    most, least = along + across, np.abs(along - across)
    return np.stack([np.maximum(1 / least - 1, 0.0), np.maximum(1 - 1 / most, 0.0)], axis=1)


def _straight_sides(xyz: Array, faces: Index) -> Array:
    p = xyz[faces]
    return np.stack([np.linalg.norm(p[:, (k + 2) % 3] - p[:, (k + 1) % 3], axis=1) for k in range(3)], axis=1)


def hold_lengths(flat: Array, rest: RestShape, hold: Hold) -> Array:
    """Lay the mesh flat again from where it lies, with some of its edges held to a length. Raises CraftError."""
    held = _even_out(flat, rest, hold)
    if flips(held, rest):
        raise CraftError("The panel folds over itself when its seams are made alike", "design.ink")
    return held


def _even_out(flat: Array, rest: RestShape, hold: Hold = NO_HOLD, settle: bool = False) -> Array:
    """Local/global rounds: best rotation of each rest face, then positions that agree with them best.

    First for the true surface lengths with equal weights, then with weights that grow where the foam is asked
    most, so that the strain is spread: a maker meets the worst places, not the mean (docs/decisions/0004).
    settle: go on with the first until it rests.
    """
    solver = _Rounds(rest, hold, len(flat))
    equal = np.ones(len(rest.faces))
    return _spread(solver, solver.settle(flat) if settle else solver.agree(flat, equal, POLISH_ROUNDS))


def _spread(solver: "_Rounds", flat: Array) -> Array:
    weight = np.ones(len(solver.rest.faces))
    for _ in range(EVEN_ROUNDS):
        asked = face_strain(solver.rest.jacobians(flat)).max(axis=1) + STRAIN_FLOOR
        weight = 0.5 * weight + 0.5 * np.clip(asked / asked.mean(), 0.1, 8.0) ** 3
        flat = solver.agree(flat, weight, 2)
    return flat


class _Rounds:
    """What local/global rounds on one mesh share. A point of the plane is one complex number, a rotation another.

    turns: (m, n), takes positions to the rotation of each face, times its area. slot: where each term of the
    cotangent Laplacian goes in its matrix, given by rows and starts of columns.
    """

    def __init__(self, rest: RestShape, hold: Hold, n: int) -> None:
        self.rest, self.hold, self.n, self.cot = rest, hold, n, rest.cotangents
        heads, tails = rest.faces[:, [2, 0, 1]].ravel(), rest.faces[:, [1, 2, 0]].ravel()
        part = (self.cot * _complex(rest.sides).conj()).ravel()
        face = np.tile(np.repeat(np.arange(len(rest.faces)), 3), 2)
        ends = np.concatenate([heads, tails])
        self.turns = csr_matrix((np.concatenate([part, -part]), (face, ends)), (len(rest.faces), n))
        self.back = self.turns.conj().T.tocsr()
        i, j = np.concatenate([heads, hold.pairs[:, 0]]), np.concatenate([tails, hold.pairs[:, 1]])
        pin = np.zeros(1, dtype=np.int32)
        rows, columns = np.concatenate([i, j, i, j, pin]), np.concatenate([i, j, j, i, pin])
        code, self.slot = np.unique(columns.astype(np.int64) * n + rows, return_inverse=True)
        columns, self.rows = np.divmod(code, n)
        self.starts = np.searchsorted(columns, np.arange(n + 1))

    def agree(self, flat: Array, weight: Array, rounds: int) -> Array:
        """Some rounds from (n, 2) mm with a weight for each face."""
        go, now = self._round(flat, weight), _complex(flat)
        for _ in range(rounds):
            now = go(now)
        return _plain(now)

    def settle(self, flat: Array, still: float = STILL) -> Array:
        """Rounds from (n, 2) mm with equal weights until no point moves by more than ``still`` mm in one.

        With Nesterov's momentum, because plain rounds creep where a slit's sides swing; it is dropped whenever it
        points back (O'Donoghue and Candes, "Adaptive restart for accelerated gradient schemes", 2015).
        """
        go = self._round(flat, np.ones(len(self.rest.faces)))
        now = last = _complex(flat)
        speed = 0
        for _ in range(MOST_ROUNDS):
            ahead = now + speed / (speed + 3) * (now - last)
            now, last = go(ahead), now
            speed = 0 if np.vdot(ahead - now, now - last).real > 0 else speed + 1
            if speed > 1 and np.abs(now - last).max() < still:
                break
        return _plain(now)

    def _round(self, flat: Array, weight: Array) -> Callable[[Complex], Complex]:
        """One round: the rotation of every face, then the positions that agree with them best."""
        system, pin = self._laplacian(weight), _complex(flat)[0]
        i, j = self.hold.pairs.T

        def go(now: Complex) -> Complex:
            turn = self.turns @ now
            right = self.back @ (weight * turn / np.abs(turn))
            if len(i):
                way = now[j] - now[i]
                wanted = HOLD * way * (self.hold.lengths / np.abs(way))
                np.add.at(right, j, wanted)
                np.add.at(right, i, -wanted)
            right[0] += pin
            return _complex(system.solve(_plain(right)))

        return go

    def _laplacian(self, weight: Array) -> SuperLU:
        """Factored, with its first vertex held: a unit on its diagonal makes the system regular."""
        w = np.concatenate([(self.cot * weight[:, None]).ravel(), np.full(len(self.hold.pairs), HOLD)])
        terms = np.bincount(self.slot, np.concatenate([w, w, -w, -w, [1.0]]))
        matrix = csc_matrix((terms, self.rows, self.starts), (self.n, self.n))
        return splu(matrix, permc_spec="MMD_AT_PLUS_A", options={"SymmetricMode": True})


def _complex(points: Array) -> Complex:
    """(..., 2) -> (...)."""
    return np.ascontiguousarray(points).view(np.complex128)[..., 0]


def _plain(points: Complex) -> Array:
    """(n,) -> (n, 2)."""
    return points.view(np.float64).reshape(-1, 2)
