"""Who comes in from the network: devices that were paired by a code or signed in with the passphrase, and customers by
a link. Tokens are long and random and kept as digests; the passphrase by Argon2id, and tried slowly."""

import hashlib
import secrets
import threading
import time
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path

from diachrom.errors import DiachromError, InvalidInput, NotFound
from diachrom.store import access, log
from diachrom.store.access import Device
from diachrom.store.connection import connected, writing

SHORTEST, LONGEST = 8, 200  # characters of a passphrase
CODE_HOLDS_S = 300.0
TRIES, TRIES_IN_S, LONGEST_WAIT_S = 5, 60.0, 3600.0
MOST_NAME = 40


class TooSoon(InvalidInput):
    """Somebody guesses."""

    def __init__(self, seconds: float) -> None:
        super().__init__(f"Too many tries: wait {max(1, round(seconds))} seconds.", field="passphrase")


def digest(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def _is_right(kept: str, text: str) -> bool:
    from argon2 import PasswordHasher
    from argon2.exceptions import InvalidHashError, VerificationError

    try:
        return PasswordHasher().verify(kept, text)
    except (VerificationError, InvalidHashError):
        return False


class Door:
    """The door of a bench, for all that ask at once."""

    def __init__(self, folder: Path, clock: Callable[[], float] = time.monotonic) -> None:
        self.folder, self._clock = folder, clock
        self._lock = threading.Lock()
        self._verifying = threading.Lock()  # one at a time: each takes its memory
        self._codes: dict[str, float] = {}  # by digest: until when it holds
        self._failed: list[float] = []
        self._known: dict[str, Device] = {}
        self.reload()

    def reload(self) -> None:
        """Who is let in, as it is written."""
        with suppress(DiachromError), connected(self.folder) as connection:
            self._known = {one.digest: one for one in access.every(connection)}

    def lets_in(self, token: str) -> bool:
        found = self._known.get(digest(token)) if token else None
        return found is not None and found.entry is None

    def entry_for(self, token: str) -> int:
        """The entry of the log that a customer's link shows. Raises NotFound."""
        found = self._known.get(digest(token))
        if found is None or found.entry is None:
            raise NotFound("This link does not hold any more: ask for another one.", field="link")
        return found.entry

    def every(self) -> list[Device]:
        return sorted(self._known.values(), key=lambda one: -one.number)

    @property
    def locked(self) -> bool:
        """A passphrase is set."""
        with connected(self.folder) as connection:
            return bool(access.passphrase(connection))

    def set_passphrase(self, text: str) -> None:
        """From now on; whoever signed in with another one is sent away. Raises InvalidInput."""
        if not SHORTEST <= len(text.strip()) <= LONGEST:
            raise InvalidInput(
                f"A passphrase has {SHORTEST} to {LONGEST} characters; four words do well.", field="passphrase"
            )
        from argon2 import PasswordHasher  # only whoever uses a passphrase waits for it

        made = PasswordHasher().hash(text.strip())
        with connected(self.folder) as connection, writing(connection):
            access.put_passphrase(connection, made)
            access.take_away_devices(connection)
        self.reload()

    def new_code(self) -> str:
        """To be scanned by a device, once, within five minutes."""
        code = secrets.token_urlsafe(16)
        with self._lock:
            now = self._clock()
            self._codes = {one: until for one, until in self._codes.items() if until > now}
            self._codes[digest(code)] = now + CODE_HOLDS_S
        return code

    def holds(self, code: str) -> bool:
        with self._lock:
            return self._codes.get(digest(code), 0.0) > self._clock()

    def pair(self, code: str, name: str, *, at: str) -> str:
        """A device's token for a code. Raises InvalidInput for one that was used, or is old."""
        with self._lock:
            if self._codes.pop(digest(code), 0.0) <= self._clock():
                raise InvalidInput(
                    "This code was used already, or is older than five minutes: show a new one.", field="code"
                )
        return self._welcome(name, at=at)

    def sign_in(self, passphrase: str, name: str, *, at: str) -> str:
        """A device's token for the passphrase. Raises InvalidInput, TooSoon."""
        self._wait_for_turn()
        with connected(self.folder) as connection:
            kept = access.passphrase(connection)
        with self._verifying:
            right = bool(kept) and _is_right(kept, passphrase.strip()[:LONGEST])
        if not right:
            with self._lock:
                self._failed.append(self._clock())
            raise InvalidInput("That is not the passphrase.", field="passphrase")
        with self._lock:
            self._failed.clear()
        return self._welcome(name, at=at)

    def _wait_for_turn(self) -> None:
        """After five failures within a minute the wait doubles with each more."""
        with self._lock:
            now = self._clock()
            self._failed = [one for one in self._failed if now - one < LONGEST_WAIT_S][-40:]
            more = len(self._failed) - TRIES
            if more >= 0:
                until = self._failed[-1] + min(TRIES_IN_S * 2.0**more, LONGEST_WAIT_S)
                if until > now:
                    raise TooSoon(until - now)

    def _welcome(self, name: str, *, at: str) -> str:
        token = secrets.token_urlsafe(32)
        called = " ".join(name.split())[:MOST_NAME] or "a device"
        with connected(self.folder) as connection, writing(connection):
            access.add(connection, name=called, digest=digest(token), entry=None, at=at)
        self.reload()
        return token

    def link(self, entry: int, *, at: str) -> str:
        """A token that shows the customer's page of an entry of the log, and nothing else. Raises NotFound."""
        token = secrets.token_urlsafe(24)
        with connected(self.folder) as connection:
            name = log.entry(connection, entry).name
            with writing(connection):
                access.add(connection, name=name[:MOST_NAME], digest=digest(token), entry=entry, at=at)
        self.reload()
        return token

    def send_away(self, number: int) -> None:
        """From now on. Raises NotFound."""
        with connected(self.folder) as connection, writing(connection):
            gone = access.take_away(connection, number)
        self.reload()
        if not gone:
            raise NotFound(f"There is no device {number}.", field="device")
