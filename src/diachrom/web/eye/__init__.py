from diachrom.web.kit.frame import RailEntry
from diachrom.words import say

RAIL_ENTRY = RailEntry(80, "trainer", say("Eye"), "e", foot=True)
