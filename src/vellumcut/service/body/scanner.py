"""A scan from the simulated scanner, as a job that can be watched and stopped."""

import threading
import time

import numpy as np

from vellumcut.core.errors import CraftError
from vellumcut.service.body.scans import keep_made
from vellumcut.service.jobs import LOOKS_EVERY, Job, start_job
from vellumcut.service.rows import fetch
from vellumcut.standins.body_scanner import SHAPES, start_scan
from vellumcut.store.database import Store
from vellumcut.store.models import Wearer

PACE = 0.04
"""Seconds a band takes, as a turning scanner would."""
_device = threading.Lock()
"""There is one scanner, and the body it sees takes much memory while it is made up."""


def scan_made_up_body(store: Store, wearer: int, shape: str, seed: int) -> Job:
    """Scan one of the scanner's made-up bodies; the job's result is the scan's number. Raises NotFound, CraftError."""
    if shape not in SHAPES:
        raise CraftError(f'The scanner knows no "{shape}"; it knows {", ".join(SHAPES)}', "shape")
    with store.read() as session:
        fetch(session, Wearer, wearer)

    def work(job: Job) -> int:
        while not _device.acquire(blocking=False):
            job.report(0.0, "The scanner is busy")
            time.sleep(LOOKS_EVERY)
        try:
            scan = start_scan(SHAPES[shape], seed)
        finally:
            _device.release()
        seen = []
        for frame in scan.frames:
            seen.append(frame.faces)
            job.report(0.95 * frame.share, f"{sum(map(len, seen)):,} triangles seen")
            time.sleep(PACE)
        faces = np.vstack(seen)
        used, packed = np.unique(faces, return_inverse=True)
        job.report(0.97, "Joining what was seen")
        return keep_made(store, wearer, f"Scanner, {shape}", scan.points[used], packed.reshape(-1, 3)).id

    return start_job(f"Scanning a {shape} body", work)
