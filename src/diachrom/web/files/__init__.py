from diachrom.web.kit.frame import RailEntry
from diachrom.words import say

RAIL_ENTRY = RailEntry(90, "files", say("Files"), "f", foot=True)
