"""Who comes in from the network: devices that were paired by a code or signed in with the passphrase, customers by a
link, scripts by a key. Tokens are long and random and kept as digests; the passphrase by Argon2id, and tried slowly.

All of it is in the folder and is asked for anew whenever anybody wrote there: whoever is sent away, by this server, by
another or by a command, is away at once.
"""

import hashlib
import secrets
import sqlite3
import threading
import time
from collections.abc import Callable, Mapping
from pathlib import Path

from diachrom.errors import InvalidInput, NotFound
from diachrom.store import access, log
from diachrom.store.access import Device
from diachrom.store.connection import connected, writing
from diachrom.store.watch import Watch
from diachrom.words import say

SHORTEST, LONGEST = 8, 200  # characters of a passphrase
CODE_HOLDS_S = 300
TRIES, FIRST_WAIT_S, LONGEST_WAIT_S = 5, 60.0, 3600.0
MOST_SOURCES = 1000  # whose tries are remembered
MOST_NAME = 40


class TooSoon(InvalidInput):
    """Somebody guesses."""

    def __init__(self, seconds: float) -> None:
        super().__init__(say("Too many tries: wait {what} seconds.", what=max(1, round(seconds))), field="passphrase")


def digest(token: str) -> str:
    """What is kept of a token."""
    return hashlib.sha256(token.encode()).hexdigest()


def _is_right(kept: str, text: str) -> bool:
    from argon2 import PasswordHasher
    from argon2.exceptions import InvalidHashError, VerificationError

    try:
        return PasswordHasher().verify(kept, text)
    except (VerificationError, InvalidHashError):
        return False


class Tries:
    """Wrong passphrases, by where they came from: whoever guesses waits, and nobody else does."""

    def __init__(self, clock: Callable[[], float]) -> None:
        self._clock = clock
        self._lock = threading.Lock()
        self._of: dict[str, list[float]] = {}  # the latest last, as are the sources

    def begin(self, source: str) -> None:
        """Counts as failed until it is known to be right, so that of many at once no more are tried. After five
        failures the wait doubles with each more. Raises TooSoon."""
        with self._lock:
            now = self._clock()
            failed = [at for at in self._of.pop(source, []) if now - at < LONGEST_WAIT_S][-40:]
            self._of[source] = failed
            more = len(failed) - TRIES
            if more >= 0:
                until = failed[-1] + min(FIRST_WAIT_S * 2.0**more, LONGEST_WAIT_S)
                if until > now:
                    raise TooSoon(until - now)
            failed.append(now)
            while len(self._of) > MOST_SOURCES:
                self._of.pop(next(iter(self._of)))

    def succeeded(self, source: str) -> None:
        """A try that was right: those before it are forgotten."""
        with self._lock:
            self._of.pop(source, None)


class Auth:
    """The door of a bench, for all that ask at once."""

    def __init__(self, folder: Path, clock: Callable[[], float] = time.time, watch: Watch | None = None) -> None:
        self.folder, self._clock = folder, clock
        self._watch = watch or Watch(folder)
        self._tries = Tries(clock)
        self._verifying = threading.Lock()  # one at a time: each takes its memory

    def _known(self) -> Mapping[str, Device]:
        return self._watch.now(
            "devices", lambda connection: {device.digest: device for device in access.every(connection)}, {}
        )

    def device(self, token: str) -> Device | None:
        """The device that a token lets in; a customer's link is none, nor is a script's key."""
        device = self._known().get(digest(token)) if token else None
        return device if device is not None and device.entry is None and not device.may else None

    def script(self, key: str) -> Device | None:
        """Whose key it is."""
        found = self._known().get(digest(key))
        return found if found is not None and found.may else None

    def entry_for(self, token: str) -> int:
        """The entry of the log that a customer's link shows. Raises NotFound."""
        device = self._known().get(digest(token))
        if device is None or device.entry is None:
            raise NotFound(say("This link no longer works: ask for a new one."), field="link")
        return device.entry

    def every(self) -> list[Device]:
        """The devices that are let in."""
        return sorted(self._known().values(), key=lambda device: -device.number)

    @property
    def locked(self) -> bool:
        """A passphrase is set."""
        with connected(self.folder) as connection:
            return bool(access.passphrase(connection))

    def set_passphrase(self, text: str) -> None:
        """From now on; whoever signed in with another one is sent away. Raises InvalidInput."""
        if not SHORTEST <= len(text.strip()) <= LONGEST:
            raise InvalidInput(
                say(
                    "A passphrase has {shortest} to {longest} characters; four words do well.",
                    shortest=SHORTEST,
                    longest=LONGEST,
                ),
                field="passphrase",
            )
        from argon2 import PasswordHasher  # only whoever uses a passphrase waits for it

        made = PasswordHasher().hash(text.strip())
        with connected(self.folder) as connection, writing(connection):
            access.put_passphrase(connection, made)
            access.take_away_devices(connection)

    def new_code(self, *, here: bool = False) -> str:
        """To be scanned by a device, once, within five minutes; `here` for a browser of this machine itself."""
        code, now = secrets.token_urlsafe(16), int(self._clock())
        with connected(self.folder) as connection, writing(connection):
            access.keep_code(connection, digest=digest(code), until=now + CODE_HOLDS_S, here=here, now=now)
        return code

    def holds(self, code: str) -> bool:
        """Whether a passphrase is set."""
        with connected(self.folder) as connection:
            return access.code_holds(connection, digest(code), int(self._clock()))

    def pair(self, code: str, name: str, *, at: str) -> str:
        """A device's token for a code. Raises InvalidInput for one that was used, or is old."""
        with connected(self.folder) as connection, writing(connection):
            here = access.use_code(connection, digest(code), int(self._clock()))
            if here is None:
                raise InvalidInput(
                    say("This code was used already, or is older than five minutes: show a new one."), field="code"
                )
            return _welcome(connection, name, at=at, here=here)

    def pair_here(self, name: str, *, at: str) -> str:
        """A token for a browser of this machine itself, which asks for it there."""
        with connected(self.folder) as connection, writing(connection):
            return _welcome(connection, name, at=at, here=True)

    def sign_in(self, passphrase: str, name: str, *, at: str, source: str = "") -> str:
        """A device's token for the passphrase, asked for from `source`. Raises InvalidInput, TooSoon."""
        self._tries.begin(source)
        with connected(self.folder) as connection:
            kept = access.passphrase(connection)
        with self._verifying:
            right = bool(kept) and _is_right(kept, passphrase.strip()[:LONGEST])
        if not right:
            raise InvalidInput(say("That is not the passphrase."), field="passphrase")
        self._tries.succeeded(source)
        with connected(self.folder) as connection, writing(connection):
            if access.passphrase(connection) != kept:
                raise InvalidInput(say("The passphrase has just been changed."), field="passphrase")
            return _welcome(connection, name, at=at)

    def link(self, entry: int, *, at: str) -> str:
        """A token that shows the customer's page of an entry of the log, and nothing else. Raises NotFound."""
        token = secrets.token_urlsafe(24)
        with connected(self.folder) as connection:
            name = log.entry(connection, entry).name
            with writing(connection):
                access.add(connection, name=name[:MOST_NAME], digest=digest(token), entry=entry, at=at)
        return token

    def new_key(self, name: str, may: str, *, at: str) -> str:
        """A key by which a script asks from elsewhere; shown once. Raises InvalidInput."""
        called = " ".join(name.split())[:MOST_NAME]
        if not called:
            raise InvalidInput(say("Say what the key is for: by that it is sent away."), field="name")
        if may not in (access.READ, access.WRITE):
            raise InvalidInput(say("A key reads, or reads and writes."), field="may")
        key = secrets.token_urlsafe(32)
        with connected(self.folder) as connection, writing(connection):
            access.add(connection, name=called, digest=digest(key), at=at, may=may)
        return key

    def send_away(self, number: int) -> None:
        """From now on. Raises NotFound."""
        with connected(self.folder) as connection, writing(connection):
            if not access.take_away(connection, number):
                raise NotFound(say("There is no device {number}.", number=number), field="device")


def _welcome(connection: sqlite3.Connection, name: str, *, at: str, here: bool = False) -> str:
    token = secrets.token_urlsafe(32)
    called = " ".join(name.split())[:MOST_NAME] or say("a device")
    access.add(connection, name=called, digest=digest(token), at=at, here=here)
    return token
