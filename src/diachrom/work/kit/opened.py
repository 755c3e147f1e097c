"""Opening the data for one request or command. What is opened here is passed to every action."""

from diachrom.store.connection import Connection as Store
from diachrom.store.connection import connected as opened
from diachrom.store.watch import Watch

__all__ = ["Store", "Watch", "opened"]
