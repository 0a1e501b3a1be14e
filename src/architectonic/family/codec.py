"""Documents to JSON text and back: pretty-printed, keys sorted, strict.

Raises of decoding name the place of the bad value, as the decoder reports it.
"""

from __future__ import annotations

import math
from typing import Any

import msgspec

from architectonic.base.errors import UserFault
from architectonic.family.migrate import migrated
from architectonic.family.order import in_order
from architectonic.family.records import FORMAT, AnyDocument, Head

_DOCUMENT: msgspec.json.Decoder[AnyDocument] = msgspec.json.Decoder(AnyDocument)
_HEAD: msgspec.json.Decoder[Head] = msgspec.json.Decoder(Head)
_ENCODER = msgspec.json.Encoder(order="sorted")


def _refuse_unfinite(value: Any, path: str) -> None:
    if isinstance(value, float) and not math.isfinite(value):
        raise UserFault("a value is not a finite number and is not stored", path)
    if isinstance(value, msgspec.Struct):
        for field in value.__struct_fields__:
            _refuse_unfinite(getattr(value, field), f"{path}.{field}")
    elif isinstance(value, dict):
        for key, entry in value.items():
            _refuse_unfinite(entry, f"{path}.{key}")
    elif isinstance(value, tuple):
        for i, entry in enumerate(value):
            _refuse_unfinite(entry, f"{path}[{i}]")


def encode(record: AnyDocument | Head) -> bytes:
    """The file's content, ending in a line break. It has been read back: equal records give equal bytes.

    Raises:
        UserFault: a NaN or infinity, which JSON would silently turn into null.
    """
    _refuse_unfinite(record, record.name)
    decoder: msgspec.json.Decoder[Any] = _HEAD if isinstance(record, Head) else _DOCUMENT
    again = decoder.decode(_ENCODER.encode(record))
    return msgspec.json.format(_ENCODER.encode(again), indent=2) + b"\n"


def _decode(decoder: msgspec.json.Decoder[Any], data: bytes, where: str) -> Any:
    try:
        version = msgspec.json.decode(data, type=dict[str, msgspec.Raw]).get("format")
        number = msgspec.json.decode(version) if version is not None else 1
    except (msgspec.DecodeError, UnicodeDecodeError) as fault:
        raise UserFault(f"this is not a readable document ({fault})", where, "take it from a backup") from None
    if isinstance(number, int) and number > FORMAT:
        raise UserFault(
            f"this was written by a newer version (format {number}, this program reads up to {FORMAT})",
            where,
            "open it with a newer Architectonic",
        )
    try:
        if isinstance(number, int) and number < FORMAT:
            data = msgspec.json.encode(migrated(msgspec.json.decode(data), FORMAT))
        return decoder.decode(data)
    except msgspec.ValidationError as fault:
        raise UserFault(
            f"this is not a valid document: {fault}", where, "mend the file or take it from a backup"
        ) from None


def decode_document(data: bytes, where: str) -> AnyDocument:
    """A document from a file's content.

    Raises:
        UserFault: unreadable, newer, or not following the format; says where.
    """
    document: AnyDocument = _decode(_DOCUMENT, data, where)
    return in_order(document)


def decode_head(data: bytes, where: str) -> Head:
    """family.json from its content; raises like `decode_document`."""
    head: Head = _decode(_HEAD, data, where)
    return head


def schema() -> dict[str, Any]:
    """JSON Schema of documents and of family.json."""
    (document, head), definitions = msgspec.json.schema_components((AnyDocument, Head), ref_template="#/$defs/{name}")
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Architectonic documents",
        "anyOf": [document, head],
        "$defs": definitions,
    }
