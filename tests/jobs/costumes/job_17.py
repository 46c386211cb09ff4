"""A belt and holsters in vinyl over foam."""

from tests.jobs import seen as s
from tests.jobs.workshop import Job, detail, kind, piece, stack, wearer

VINYL = stack("vinyl", "vinyl", "stitches", on="sealed foam")
BELT = piece(
    "belt",
    "Vinyl belt",
    foam=4,
    rig={"way": "buckle"},
    making={
        "finishes": [VINYL],
        "details": [
            detail("skin", "vinyl cover", "black vinyl"),
            detail("rings", "ring cover", "ring loops", count=2),
            detail("strip", "layer", "raised strip"),
            detail("holster", "holder", "holster"),
        ],
    },
)

JOB = Job(
    "17",
    "Belt and holsters in vinyl over foam",
    wearer(117, "Lotte Crane"),
    (BELT,),
    (
        kind("tiled pages to print", s.file(r"Vinyl.belt.*\.pdf")),
        kind("turned over with its nicks", s.step("vinyl", "slit at curves|nick")),
        kind("foam left out at rings", s.step("leave-out", "ring loops"), s.order("leave-out", "ring-cover")),
        kind("stiffener before the cover", s.order("stiffen", "vinyl:")),
        kind("overnight clamp at rings and buckle", s.any_step("overnight")),
        kind("scuffed before glue", s.order("scuff", "vinyl:")),
        kind("raised stitches before weathering", s.step("coat-colour", "stitches")),
        kind("raised parts from the tight end", s.any_step("tight end")),
        kind("raised parts under the vinyl", s.order("lay-on:strip", "vinyl:")),
        kind("vinyl is never heated after", s.order("heat-seal|reseal|form", "vinyl:")),
        kind("vinyl is never sanded or primed after", s.order("smooth", "vinyl:"), s.without("coat-primer")),
        kind("cement by the area of the belt", s.minutes("vinyl", 15, 240)),
        kind("holster to its prop", s.order("prop:", "holder:")),
        kind("nothing refused, nothing silly", s.nothing_refused, s.nothing_silly),
    ),
)
