"""The archive for the board, and its compiled image where the compiler is installed."""

from __future__ import annotations

import io
import shutil
import subprocess
import tempfile
import zipfile
from collections.abc import Mapping
from functools import cache
from pathlib import Path

from ..core.program.archive import CLASSES, is_large
from ..core.program.handset import HandsetProgram
from ..core.program.planned import ProgramPlan

COMPILER_S = 20
"""The compiler is given so long; then the archive goes without an image."""
WHEN = (2026, 1, 1, 0, 0, 0)
"""One time for every file: the same program makes the same archive."""


def zipped(files: Mapping[str, str | bytes]) -> bytes:
    """The files as one archive, the same bytes for the same files."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as made:
        for name, content in sorted(files.items()):
            body = content.encode("utf-8") if isinstance(content, str) else content
            made.writestr(zipfile.ZipInfo(name, WHEN), body, zipfile.ZIP_DEFLATED)
    return out.getvalue()


@cache
def chip(large: bool) -> str | None:
    """The compiler's first name of a chip that can what the class says; None without a compiler or such a chip."""
    compiler = shutil.which("avr-gcc")
    if compiler is None:
        return None
    core, needs = CLASSES[large]
    asked = f"#include <avr/io.h>\n#if {' && '.join(needs)}\nfits\n#endif\n"
    found = subprocess.run([compiler, "-print-libgcc-file-name"], capture_output=True, text=True, timeout=COMPILER_S)
    for spec in sorted((Path(found.stdout.strip()).parent / "device-specs").glob("specs-*")):
        name = spec.name.removeprefix("specs-")
        if core not in spec.read_text("utf-8", "replace"):
            continue
        words = [compiler, f"-mmcu={name}", "-E", "-P", "-"]
        told = subprocess.run(words, input=asked, capture_output=True, text=True, timeout=COMPILER_S)
        if "fits" in told.stdout.split():
            return name
    return None


def image_of(plan: ProgramPlan | HandsetProgram, source: str) -> str | None:
    """The program compiled for the class, as Intel hex; None where no compiler is installed or it takes too long."""
    if plan.controller.program != "avr":
        return None
    try:
        name = chip(is_large(plan))
        copier = shutil.which("avr-objcopy")
        if name is None or copier is None:
            return None
        with tempfile.TemporaryDirectory() as folder:
            here = Path(folder)
            (here / "program.c").write_text(source, "utf-8")
            for words in (
                ["avr-gcc", f"-mmcu={name}", "-std=c11", "-Os", "-o", "program.elf", "program.c"],
                [copier, "-O", "ihex", "program.elf", "program.hex"],
            ):
                subprocess.run(words, cwd=here, check=True, capture_output=True, timeout=COMPILER_S)
            return (here / "program.hex").read_text("ascii")
    except (OSError, subprocess.SubprocessError):
        return None
