from diachrom.web.kit.frame import RailEntry

RAIL_ENTRY = RailEntry(60, "orders", "Orders", "o", on_phone=False)
