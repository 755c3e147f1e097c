from diachrom.web.kit.frame import RailEntry

RAIL_ENTRY = RailEntry(90, "files", "Files", "f", foot=True)
