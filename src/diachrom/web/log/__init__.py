from diachrom.web.kit.frame import RailEntry

RAIL_ENTRY = RailEntry(70, "log", "Log", "l", on_phone=False)
