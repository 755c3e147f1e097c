"""The dots of this bench's mist: how thick, how sure, and how that is known."""

import json
import sqlite3
from dataclasses import asdict
from typing import Annotated, Literal

from pydantic import Field, TypeAdapter
from pydantic.dataclasses import dataclass

from diachrom.core.mix.hand import USUAL_DROPLET_UM, Hand
from diachrom.core.mix.layers import THICKEST_DISC_UM
from diachrom.store import kept, settings
from diachrom.store.memory import cached

KEY = "mist"
Source = Literal["usual", "even", "cards", "photo", "typed"]


@dataclass(frozen=True)
class Mist:
    droplet_um: Annotated[kept.Number, Field(ge=0, le=THICKEST_DISC_UM)] = USUAL_DROPLET_UM
    off: Annotated[kept.Number, Field(ge=0, le=2)] = 0.4  # one standard deviation of its logarithm
    source: Source = "usual"
    across_um: Annotated[kept.Number, Field(ge=5, le=1000)] = 60.0  # a dot, once it lies


MIST = TypeAdapter(Mist)


@cached
def believed(connection: sqlite3.Connection) -> tuple[float | None, str | None, str | None]:
    """How many times as thick as meant coats come out, the mist and the foil as they are kept: asked for at once."""
    row = connection.execute(
        "SELECT (SELECT times FROM hand_factor ORDER BY id DESC LIMIT 1) AS times,"
        " (SELECT value FROM setting WHERE key = 'mist') AS mist,"
        " (SELECT value FROM setting WHERE key = 'foil') AS foil"
    ).fetchone()
    return row["times"], row["mist"], row["foil"]


def now(connection: sqlite3.Connection) -> Mist:
    """What is believed of it; the usual where nothing was said."""
    return kept.read(MIST, believed(connection)[1], Mist())


def put(connection: sqlite3.Connection, mist: Mist) -> None:
    """Believe another from now on. Inside `writing`."""
    settings.put(connection, {KEY: json.dumps(asdict(mist))})


def hand(connection: sqlite3.Connection) -> Hand:
    """How this bench lays paint."""
    times, mist = believed(connection)[0], now(connection)
    return Hand(1.0 if times is None else float(times), mist.droplet_um, mist.off)
