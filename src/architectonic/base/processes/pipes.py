"""Messages through a pipe: their length, then their bytes."""

from __future__ import annotations

import struct

HEAD = struct.Struct("<I")


def packed(data: bytes) -> bytes:
    """A message as it goes through a pipe."""
    return HEAD.pack(len(data)) + data


def unpacked(got: bytearray) -> bytes | None:
    """The first whole message of what has come, which is taken out of it; None while there is none."""
    if len(got) < HEAD.size:
        return None
    (length,) = HEAD.unpack_from(got)
    if len(got) < HEAD.size + length:
        return None
    found = bytes(got[HEAD.size : HEAD.size + length])
    del got[: HEAD.size + length]
    return found
