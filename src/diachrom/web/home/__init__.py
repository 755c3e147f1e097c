from diachrom.web.kit.frame import RailEntry

RAIL_ENTRY = RailEntry(5, "home", "Today", "d", on_phone=False)
