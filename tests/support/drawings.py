"""Helpers of tests: drawings."""

from pathlib import Path


def drawing(tmp_path, *entities, units=4, version="AC1015"):
    """A file of group codes: header with version and unit, then entities (code, value, code, value, ...)."""
    codes = [0, "SECTION", 2, "HEADER", 9, "$ACADVER", 1, version, 9, "$INSUNITS", 70, units, 0, "ENDSEC",
             0, "SECTION", 2, "ENTITIES", *(v for e in entities for v in e), 0, "ENDSEC", 0, "EOF"]  # fmt: skip
    file = tmp_path / "drawing.dxf"
    file.write_text("\n".join(str(c) for c in codes) + "\n", "utf-8")
    return file


def entity(kind, *codes, layer="0"):
    sub = {
        "LINE": "AcDbLine",
        "CIRCLE": "AcDbCircle",
        "LWPOLYLINE": "AcDbPolyline",
        "ELLIPSE": "AcDbEllipse",
        "SPLINE": "AcDbSpline",
    }
    more = (100, "AcDbEntity", 8, layer, 100, sub.get(kind, "AcDbText"))
    return (0, kind, 5, f"{hash((kind, codes)) % 10**6:X}", *more, *codes)


SLOT = (90, 4, 70, 1, 10, 0.0, 20, -10.0, 10, 40.0, 20, -10.0, 42, 1.0, 10, 40.0, 20, 10.0, 10, 0.0, 20, 10.0, 42, 1.0)


def codes_of(file: Path):
    lines = file.read_text("utf-8").splitlines()
    return [(int(lines[k]), lines[k + 1].strip()) for k in range(0, len(lines) - 1, 2)]


def entities_of(pairs):
    """Entities of the ENTITIES section: kind, and values by code."""
    begin = next(k for k in range(len(pairs)) if pairs[k : k + 2] == [(0, "SECTION"), (2, "ENTITIES")])
    found = []
    for code, value in pairs[begin + 2 :]:
        if code == 0 and value == "ENDSEC":
            return found
        if code == 0:
            found.append((value, {}))
        else:
            found[-1][1].setdefault(code, []).append(value)
    return found
