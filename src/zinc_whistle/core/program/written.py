"""The program of any controller of a build, in its language: of one that tells drives, or of a handset."""

from __future__ import annotations

from dataclasses import dataclass

from ..assess import Assessment
from .archive import files, handset_files
from .c_handset import c_handset
from .c_source import c_source
from .handset import HandsetProgram
from .micropython_handset import micropython_handset
from .micropython_source import micropython_source
from .plan import plan_handset, plan_program
from .planned import ProgramPlan

FILES = {"avr": "program.c", "micropython": "main.py"}


@dataclass(frozen=True, slots=True)
class Written:
    """A program: its plan, its language, its file's name and its text."""

    plan: ProgramPlan | HandsetProgram
    language: str
    file: str
    source: str

    def files(self, source: str) -> dict[str, str]:
        """What goes to the board with a text of it, by name."""
        if isinstance(self.plan, HandsetProgram):
            return handset_files(self.plan, source, self.file)
        return files(self.plan, source, self.file)


def written(assessment: Assessment, controller_id: str) -> Written:
    """The program of a controller. NotYet with a sentence for each thing that is missing."""
    hand = plan_handset(assessment, controller_id)
    if hand is not None:
        source = micropython_handset(hand) if hand.controller.program == "micropython" else c_handset(hand)
        return Written(hand, hand.controller.program or "avr", FILES[hand.controller.program or "avr"], source)
    plan = plan_program(assessment, controller_id)
    language = plan.controller.program or "avr"
    source = micropython_source(plan) if language == "micropython" else c_source(plan)
    return Written(plan, language, FILES[language], source)
