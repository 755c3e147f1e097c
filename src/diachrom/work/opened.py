"""Opening the data for one request or command. What is opened here is passed to every action."""

import sqlite3

from diachrom.store.connection import connected as opened

Store = sqlite3.Connection

__all__ = ["Store", "opened"]
