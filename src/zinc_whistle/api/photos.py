"""Pictures made ready to be kept: read, turned upright, made small, and written anew without where they were taken."""

from __future__ import annotations

import io

from PIL import Image, ImageOps, UnidentifiedImageError

MOST_PIXELS = 60_000_000
"""A picture larger than that is not unpacked: a small file may hold one that fills the memory."""
SIDE = 1600
KINDS = ("JPEG", "PNG", "WEBP")
QUALITY = 84


class NoPicture(ValueError):
    """What came is no picture that can be kept; the message is a sentence."""


def kept_picture(body: bytes) -> bytes:
    """A picture as JPEG, at most 1,600 points a side; nothing of what its file told besides is left. Raises
    NoPicture."""
    try:
        with Image.open(io.BytesIO(body), formats=KINDS) as image:
            width, height = image.size
            if width * height > MOST_PIXELS:
                raise NoPicture(f"The picture has {width * height / 1e6:.0f} million points: at most 60 are taken.")
            image.draft("RGB", (SIDE, SIDE))
            upright = ImageOps.exif_transpose(image)
            flat = Image.new("RGB", upright.size, "white")
            # What is seen through is seen on white.
            clear = upright.convert("RGBA") if "transparency" in upright.info or "A" in upright.mode else None
            flat.paste(clear or upright.convert("RGB"), mask=clear)
            flat.thumbnail((SIDE, SIDE))
            out = io.BytesIO()
            flat.save(out, "JPEG", quality=QUALITY, optimize=True)
            return out.getvalue()
    except NoPicture:
        raise
    except (UnidentifiedImageError, Image.DecompressionBombError) as error:
        raise NoPicture("That is no picture that can be kept: give a JPEG, PNG or WebP.") from error
    except (OSError, SyntaxError, ValueError, EOFError, IndexError, TypeError) as error:
        raise NoPicture("The picture is damaged: it cannot be read to its end.") from error
