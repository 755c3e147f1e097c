"""ZIP files whose entries bear no time: no clock, however wrong, keeps one from being written."""

import zipfile
from typing import Any

FIRST = (1980, 1, 1, 0, 0, 0)  # the earliest that the form knows


class UndatedZip(zipfile.ZipFile):
    def __init__(self, file: Any) -> None:
        super().__init__(file, "w", zipfile.ZIP_DEFLATED, strict_timestamps=False)

    def writestr(
        self, name: Any, data: Any, compress_type: int | None = None, compresslevel: int | None = None
    ) -> None:
        """Write a file that bears no time."""
        own = name if isinstance(name, zipfile.ZipInfo) else zipfile.ZipInfo(name, FIRST)
        if own is not name:
            own.compress_type, own.external_attr = self.compression, 0o600 << 16
        super().writestr(own, data, compress_type, compresslevel)
