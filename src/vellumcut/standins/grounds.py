"""Grounds that pieces lie on, as light from each place: woven cloth, boards, carpet with a pattern, pale cloth,
newspaper."""

from typing import Literal, get_args

import cv2
import numpy as np
from numpy.typing import NDArray

Light = NDArray[np.float32]
Ground = Literal["cloth", "boards", "carpet", "pale", "newspaper"]
GROUNDS: tuple[Ground, ...] = get_args(Ground)


def ground_colour(ground: Ground, plane: Light, luck: np.random.Generator) -> Light:
    """(h, w, 3) albedo. plane: (h, w, 2) mm on the ground."""
    x, y = plane[..., 0], plane[..., 1]
    if ground == "boards":
        return _boards(x, y, luck)
    if ground == "carpet":
        return _carpet(x, y, luck)
    if ground == "newspaper":
        return _newspaper(x, y, luck)
    base = np.array([0.10, 0.16, 0.22], np.float32) if ground == "cloth" else np.array([0.62, 0.60, 0.56], np.float32)
    weave = np.sin(x * np.float32(2 * np.pi / 2.2)) * np.sin(y * np.float32(2 * np.pi / 2.2))
    tone = 1 + np.float32(0.05) * weave + np.float32(0.10) * _clouds(plane, 90.0, luck)
    return np.asarray(tone[..., None] * base, np.float32)


def _clouds(plane: Light, size: float, luck: np.random.Generator) -> Light:
    """Soft random tone over the ground; size: mm of a patch."""
    grid = luck.normal(0, 1, (64, 64)).astype(np.float32)
    where = np.float32(32) + plane / np.float32(size)
    return np.asarray(
        cv2.remap(grid, where[..., 0], where[..., 1], cv2.INTER_CUBIC, borderMode=cv2.BORDER_WRAP), np.float32
    )


def _boards(x: Light, y: Light, luck: np.random.Generator) -> Light:
    wide = np.float32(95.0)
    board = np.floor(x / wide).astype(np.int32) % 32
    tones = luck.uniform(0.8, 1.15, 32).astype(np.float32)
    grain = _clouds(np.stack([x * 9, y * 0.5], axis=-1), 22.0, luck) * np.float32(0.13)
    gap = np.abs(x / wide - np.round(x / wide)) * wide < np.float32(0.9)
    tone = (tones[board] * (1 + grain)) * np.where(gap, np.float32(0.25), np.float32(1))
    return np.asarray(tone[..., None] * np.array([0.30, 0.17, 0.085], np.float32), np.float32)


def _carpet(x: Light, y: Light, luck: np.random.Generator) -> Light:
    dyes = np.array([[0.28, 0.05, 0.05], [0.05, 0.07, 0.16], [0.45, 0.36, 0.22], [0.06, 0.13, 0.09]], np.float32)
    u, v = np.floor(x / 34).astype(np.int32), np.floor(y / 34).astype(np.int32)
    ring = (np.hypot(x - 34 * (u + np.float32(0.5)), y - 34 * (v + np.float32(0.5))) < 11).astype(np.int32)
    pile = 1 + np.float32(0.16) * _clouds(np.stack([x, y], axis=-1), 1.3, luck)
    return np.asarray(dyes[(u + 2 * v + ring) % 4] * pile[..., None], np.float32)


def _newspaper(x: Light, y: Light, luck: np.random.Generator) -> Light:
    """Columns of lines of print, letters of chance widths, and pictures in some of the columns."""
    wide, line = np.float32(58.0), np.float32(4.2)
    column, row = np.floor(x / wide).astype(np.int32), np.floor(y / line).astype(np.int32)
    across, down = x - column * wide, y - row * line
    letter = np.floor(across / np.float32(1.5)).astype(np.int32)
    chance = luck.random((64, 512, 40)).astype(np.float32)
    drawn = chance[column % 64, row % 512, letter % 40]
    inked = (drawn > 0.24) & (down > 0.9) & (down < 2.2 + 1.2 * drawn) & (across < wide - 5) & (across % 1.5 < 1.05)
    pictured = (luck.random((64, 64)) < 0.16)[column % 64, (row // 9) % 64] & (across < wide - 5)
    tone = np.where(pictured, 0.16 + 0.2 * drawn, np.where(inked, np.float32(0.09), np.float32(0.58)))
    return np.asarray(tone[..., None] * np.array([1.0, 0.98, 0.92], np.float32), np.float32)
