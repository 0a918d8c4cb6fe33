"""The usual cautions, each where it fits. They defer to local codes and to licensed practice."""

from __future__ import annotations

from ..cases.operating import DriveCircuit, DriveContext

HOT_SURFACE_C = 60.0
LARGE_CURRENT_A = 10.0


def cautions(at: DriveContext, solved: DriveCircuit, station: str, junction_c: float | None) -> list[str]:
    """Short sentences for one station of one drive."""
    found: dict[str, list[str]] = {
        "motor": [
            (
                "Clamp the motor before a stall test; hold the shaft mechanically, never "
                "by hand. One second, then let it cool."
            ),
            "The 10 A socket of many meters is for seconds, and not all are fused.",
        ],
        "load": [
            "What turns can catch hair, sleeves and fingers: guard it, and keep the public an arm's length away.",
            "Nothing that can fall may be held up by a motor alone. A lift, gate, hoist or vehicle falls under local "
            "codes and standards: ask a qualified person.",
        ],
        "supply": ["Fuse first, at the source."],
        "driver": [],
        "power_stage": ["The case is not the junction, and a junction at its limit burns skin: no fingers."],
        "signals": ["A program's stop does not cut power: keep a switch or a fuse that does."],
        "wiring": [
            "Solder in moving air, wash your hands afterwards, and wear eye protection when trimming leads.",
            "Mains only by a finished, approved adaptor: anything beyond that is for a licensed electrician.",
        ],
        "encoder": [],
        "loop": ["Make the sign test at low duty before the loop is closed: a drive with swapped leads runs away."],
        "bench": [
            "The oscilloscope's ground clip is earth: never on a bridge output.",
            "A bench supply's limit does not hold back what its output capacitor still gives into a short.",
        ],
        "log": [],
    }
    said = found.get(station, [])
    if station == "supply":
        if at.source.kind == "battery":
            said.append(
                "A lithium pack gives hundreds of amperes into a short: use a protected pack, and charge it attended."
            )
        else:
            said.append("Mains only by a finished, approved adaptor.")
    if station in ("driver", "power_stage") and junction_c is not None and junction_c > HOT_SURFACE_C:
        said.append("This part runs hot enough to burn: mount it where nobody touches it.")
    if station in ("driver", "wiring") and (solved.stall_full.value or 0.0) > LARGE_CURRENT_A:
        said.append("Stall current here melts thin wire: no bridging of the fuse, not for a moment.")
    return said


def servo_cautions(station: str) -> list[str]:
    """Short sentences for a servo's stations."""
    return {
        "load": [
            (
                "A servo does not feel fingers: keep them out of the linkage, and fit "
                "the horn with the pulse at its middle."
            )
        ],
        "supply": ["Servos that jam together draw their stall currents together: fuse the rail, and size it for that."],
        "bench": ["Move the meter's lead back to volts afterwards: left in the current socket it is a short."],
        "signals": ["A program's stop does not cut power: keep a switch or a fuse that does."],
        "wiring": ["Colours of servo leads differ: check which is plus with a meter before plugging it in."],
    }.get(station, [])
