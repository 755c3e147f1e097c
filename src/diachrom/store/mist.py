"""The dots of this bench's mist: how thick, how sure, and how that is known."""

import json
import sqlite3
from dataclasses import asdict
from typing import Annotated, Literal

from pydantic import Field, TypeAdapter
from pydantic.dataclasses import dataclass

from diachrom.core.mix.hand import USUAL_DROPLET_UM, Hand
from diachrom.core.mix.layers import THICKEST_DISC_UM
from diachrom.store import hand_factor, kept, settings
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
def now(connection: sqlite3.Connection) -> Mist:
    """What is believed of it; the usual where nothing was said."""
    return kept.read(MIST, settings.every(connection).get(KEY), Mist())


def put(connection: sqlite3.Connection, mist: Mist) -> None:
    """Believe another from now on. Inside `writing`."""
    settings.put(connection, {KEY: json.dumps(asdict(mist))})


def hand(connection: sqlite3.Connection) -> Hand:
    """How this bench lays paint."""
    mist = now(connection)
    return Hand(hand_factor.now(connection), mist.droplet_um, mist.off)
