"""A line to an instrument: what is said and answered, and every way in which it fails, in a sentence."""

from __future__ import annotations

import re
from functools import cache
from typing import Any

import pyvisa
from pyvisa.errors import InvalidSession, VisaIOError

TIMEOUT_MS = 2000
LONGEST = 4_000_000
ADDRESS = re.compile(
    r"(?:TCPIP\d?::(?P<host>[A-Za-z0-9.\-]{1,80})::(?P<port>\d{1,5})::SOCKET|ASRL(?P<serial>[A-Za-z0-9/_.\-]{1,80})::INSTR)"
)
HOW = "TCPIP::host::port::SOCKET, or ASRL followed by the serial port and ::INSTR"


NOTHING = "Nothing answers at {}: is it on, and is the address right?"


class LinkError(RuntimeError):
    """An instrument that does not answer, or not as it should; the message is a sentence for its reader.

    ``lost`` tells that the line is closed by it: what was set may still stand."""

    def __init__(self, sentence: str, *, lost: bool = False) -> None:
        super().__init__(sentence)
        self.lost = lost


@cache
def _visa() -> Any:
    # The backend in Python: no vendor's library is looked for, and nothing is scanned.
    return pyvisa.ResourceManager("@py")


class InstrumentLink:
    """An open line. Not for two threads at once."""

    def __init__(self, address: str, *, timeout_ms: int = TIMEOUT_MS, baud: int = 38_400) -> None:
        self.address = address.strip()
        self._heard = False
        found = ADDRESS.fullmatch(self.address)
        if found is None or (found["port"] and not 0 < int(found["port"]) < 65536):
            raise LinkError(f"“{self.address[:60]}” is no address of an instrument: write {HOW}.")
        try:
            self._at = _visa().open_resource(
                self.address, read_termination="\n", write_termination="\n", timeout=timeout_ms, open_timeout=timeout_ms
            )
            if found["serial"]:
                self._at.baud_rate = baud
        except (VisaIOError, OSError, ValueError) as error:
            raise LinkError(NOTHING.format(self.address)) from error

    def tell(self, text: str) -> None:
        """Says something that is not answered. LinkError where the line is gone."""
        try:
            self._at.write(text)
        except (VisaIOError, OSError, InvalidSession) as error:
            self.close()
            said = f"The line to {self.address} is gone." if self._heard else NOTHING.format(self.address)
            raise LinkError(said, lost=True) from error

    def ask(self, text: str) -> str:
        """Says something and reads one line. LinkError where none comes in time: then the line is closed, since an
        answer that came late would pass for the next one."""
        self.tell(text)
        return self.hear(text)

    def hear(self, after: str = "") -> str:
        """One line."""
        try:
            answer = str(self._at.read())
            self._heard = True
        except VisaIOError as error:
            self.close()
            slow = error.error_code == pyvisa.constants.StatusCode.error_timeout
            what = f"did not answer “{after}” in time" if slow else "broke off"
            raise LinkError(f"{self.address} {what}; the line is closed.", lost=True) from error
        except (OSError, InvalidSession, UnicodeDecodeError) as error:
            self.close()
            raise LinkError(
                f"{self.address} broke off or sent what is no text; the line is closed.", lost=True
            ) from error
        if len(answer) > LONGEST:
            raise LinkError(f"{self.address} answered more than {LONGEST // 1_000_000} MB.")
        return answer.strip()

    def number(self, text: str) -> float:
        """Asks for one number. LinkError where the answer is none."""
        answer = self.ask(text)
        try:
            value = float(answer)
        except ValueError as error:
            raise LinkError(f"{self.address} answered “{answer[:40]}” to “{text}”, which is no number.") from error
        if not -1e37 < value < 1e37:
            raise LinkError(f"{self.address} tells an overload: set its range higher, or take the lead off.")
        return value

    def close(self) -> None:
        """Ends the line; twice does no harm."""
        try:
            self._at.close()
        except (VisaIOError, OSError, InvalidSession):
            return
