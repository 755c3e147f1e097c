from diachrom.web.kit.frame import RailEntry

RAIL_ENTRY = RailEntry(67, "finish", "Finish", "i", on_phone=False)
