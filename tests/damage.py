"""Files as they come off a bad disk or a broken connection."""

import random


def damaged(whole: bytes, luck: random.Random) -> bytes:
    """The file with bytes turned, a stretch lost or doubled, or its end missing."""
    out = bytearray(whole)
    where = luck.randrange(len(out))
    length = luck.choice([1, 7, 200])
    match luck.choice(["turned", "lost", "doubled", "cut short", "filled"]):
        case "turned":
            for _ in range(luck.choice([1, 5, 60])):
                out[luck.randrange(len(out))] = luck.randrange(256)
        case "lost":
            del out[where : where + length]
        case "doubled":
            out[where:where] = out[where : where + length]
        case "cut short":
            del out[where:]
        case _:
            out[where : where + length] = luck.choice([b"\0", b"9", b"\xff", b"["]) * length
    return bytes(out)
