from diachrom.web.kit.frame import RailEntry

RAIL_ENTRY = RailEntry(30, "match", "Match", "t", on_phone=False)
