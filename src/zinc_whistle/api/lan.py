"""A phone at the bench: the one exception to answering this machine alone.

Off unless it is asked for. One exact private address is listened on besides; whoever comes that way shows a code first,
which only this machine's own screen tells, and gets a session for the evening. It reads, and enters readings, notes
and pictures; it drives no instrument and changes no build. It is plain HTTP: whoever shares the network can
read along, and could take the session.
"""

from __future__ import annotations

import contextlib
import hashlib
import hmac
import ipaddress
import re
import secrets
import socket
import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

CODE_BYTES = 5
"""40 bits, eight letters and digits of base 32."""
CODE_S, TRIES = 600.0, 5
SESSION_S = 12 * 3600.0
MOST_SESSIONS = 5
COOKIE = "zw-phone"
ALPHABET = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789"
"""Base 32 without letters and digits that are taken for one another."""
REFUSED = "A phone reads, and enters readings, notes and pictures: do this on the machine itself."
UNPAIRED = "This phone is not let in (any more): scan the code that the machine shows under “Phone at the bench”."
MAY_READ = re.compile(r"/api/(?!instruments|lan|openapi).*")
MAY_SEND = re.compile(r"/api/(assess|builds/[^/]+/(readings|log)|files/[^/]+|progress/[^/]+|sums(/[^/]+)?|lan/leave)")


class LanError(ValueError):
    """It cannot be offered, or a code that does not let in; the message is a sentence for its reader."""


@dataclass(slots=True)
class PhoneSession:
    """A phone that was let in: when, and until when (monotonic seconds)."""

    number: int
    since: float
    ends: float


@dataclass
class Lan:
    """What is offered to phones at one address. ``clock`` tells monotonic seconds."""

    address: str
    port: int
    clock: Callable[[], float] = time.monotonic
    _code: str = ""
    _expires: float = 0.0
    _tries: int = 0
    _sessions: dict[bytes, PhoneSession] = field(default_factory=dict)
    _count: int = 0

    @property
    def host(self) -> str:
        """As Host must say it."""
        return self.address if self.port == 80 else f"{self.address}:{self.port}"

    def new_code(self) -> str:
        """A code that lets one phone in, for ten minutes and five tries; an older one is void."""
        number = int.from_bytes(secrets.token_bytes(CODE_BYTES), "big")
        self._code = "".join(ALPHABET[number >> 5 * k & 31] for k in range(8))
        self._expires, self._tries = self.clock() + CODE_S, TRIES
        return self._code

    @property
    def code_left_s(self) -> float:
        """How long the code lets in; 0 where there is none."""
        return max(self._expires - self.clock(), 0.0) if self._code else 0.0

    def join(self, code: str) -> str:
        """The token of a new session. LanError where the code does not let in; each try counts, a right one ends it."""
        if not self._code or self.clock() >= self._expires or self._tries <= 0:
            self._code = ""
            raise LanError("There is no code now, or it is used up: show a new one on the machine.")
        self._tries -= 1
        tidy = re.sub(r"[\s-]", "", code).upper()
        if not hmac.compare_digest(tidy.encode(), self._code.encode()):
            raise LanError(f"That is not the code; {self._tries} tries are left.")
        if len(self._open()) >= MOST_SESSIONS:
            raise LanError(f"{MOST_SESSIONS} phones are let in already: end one on the machine.")
        self._code = ""
        token = secrets.token_urlsafe(32)
        self._count += 1
        now = self.clock()
        self._sessions[_hashed(token)] = PhoneSession(self._count, now, now + SESSION_S)
        return token

    def _open(self) -> dict[bytes, PhoneSession]:
        now = self.clock()
        self._sessions = {k: s for k, s in self._sessions.items() if s.ends > now}
        return self._sessions

    def sessions(self) -> list[PhoneSession]:
        """The phones that are let in."""
        return list(self._open().values())

    def let_in(self, token: str) -> bool:
        """Whether a token is a session's."""
        return bool(token) and _hashed(token) in self._open()

    def revoke(self, number: int | None = None, token: str = "") -> None:
        """Ends one session, or all of them."""
        if token:
            self._sessions.pop(_hashed(token), None)
            return
        self._sessions = {} if number is None else {k: s for k, s in self._sessions.items() if s.number != number}

    def refusal(self, method: str, path: str, cookies: Mapping[str, str]) -> tuple[int, str] | None:
        """Why a request that came by this address is refused; None where it is let through."""
        if not path.startswith("/api/") or path in ("/api/lan/join", "/api/lan/role"):
            return None
        if not self.let_in(cookies.get(COOKIE, "")):
            return 401, UNPAIRED
        may = MAY_READ if method in ("GET", "HEAD") else MAY_SEND if method == "POST" else None
        return None if may is not None and may.fullmatch(path) else (403, REFUSED)


def _hashed(token: str) -> bytes:
    return hashlib.sha256(token.encode()).digest()


def cookies_of(header: bytes) -> dict[str, str]:
    """The cookies of a request."""
    pairs = (part.partition("=") for part in header.decode("latin-1").split(";"))
    return {name.strip(): value.strip() for name, _, value in pairs}


def private_address(wanted: str) -> str:
    """The address to listen on: the one that is named, or this machine's own in its network. LanError where it is not
    a private one, or there is none, or more than one to choose from."""
    if wanted != "auto":
        return _private(wanted)
    found = sorted({a for a in _own_addresses() if _is_private(a)})
    if not found:
        raise LanError("This machine has no address in a private network.")
    if len(found) > 1:
        raise LanError(f"This machine has several addresses: name one of {', '.join(found)} with --lan-address.")
    return found[0]


def _private(wanted: str) -> str:
    if not _is_private(wanted):
        raise LanError(f"“{wanted[:60]}” is no address in a private network, such as 192.168.1.20.")
    return wanted


def _is_private(text: str) -> bool:
    try:
        address = ipaddress.IPv4Address(text)
    except ValueError:
        return False
    return any(address in ipaddress.IPv4Network(n) for n in ("10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16"))


def _own_addresses() -> set[str]:
    """Addresses of this machine, without asking anybody: what its name stands for, and where a route would begin."""
    found = set()
    with contextlib.suppress(OSError):
        found |= {str(info[4][0]) for info in socket.getaddrinfo(socket.gethostname(), None, socket.AF_INET)}
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as looking, contextlib.suppress(OSError):
        # A datagram socket that is joined sends nothing; it only picks the way.
        looking.connect(("10.255.255.255", 9))
        found.add(looking.getsockname()[0])
    return found
