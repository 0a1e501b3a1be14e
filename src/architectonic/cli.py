"""The `architectonic` command: everything the core does, without a window. See docs/headless.md."""

from __future__ import annotations

import argparse
import json
import os
import sys
import time
from typing import TYPE_CHECKING, Any

from architectonic.base.errors import EnvironmentFault, UserFault
from architectonic.options import Run, parser

if TYPE_CHECKING:
    from architectonic.family.scopes import Scope


def main(arguments: list[str] | None = None) -> int:
    """Run a command; returns the exit status (0 fine, 1 needs attention, 2 could not)."""
    arguments = sys.argv[1:] if arguments is None else arguments
    try:
        if not arguments or arguments[0] not in {*_RUNS, "-h", "--help"}:
            return _window(arguments)
        options = parser(_RUNS).parse_args(arguments)
        return int(options.run(options))
    except UserFault as fault:
        print(fault.sentence, file=sys.stderr)
    except EnvironmentFault as fault:
        print(fault, file=sys.stderr)
    except BrokenPipeError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), 1)
    except OSError as fault:
        about = str(fault.filename)[:80] if fault.filename else "a file"
        print(f"{about} cannot be used ({fault.strerror or type(fault).__name__}); name another one", file=sys.stderr)
    except KeyboardInterrupt:
        print("cancelled", file=sys.stderr)
    except Exception as defect:
        print(_defect(defect), file=sys.stderr)
    return 2


def _defect(defect: Exception) -> str:
    """One sentence about a fault of the program; what who mends it needs is written down."""
    import traceback

    from architectonic.base.folders import state_folder

    told = f"a fault of the program ({type(defect).__name__})"
    report = state_folder() / "faults" / f"{time.strftime('%Y-%m-%d %H.%M.%S')} {os.getpid()}.txt"
    try:
        report.parent.mkdir(parents=True, exist_ok=True)
        report.write_text("".join(traceback.format_exception(defect)), "utf-8")
    except OSError:
        return told
    return f"{told}; its report is {report}"


def _wish(options: argparse.Namespace, **more: str) -> Any:
    from architectonic.quantities.compiled import complete, fixed_value
    from architectonic.session.files.export import Writing
    from architectonic.session.files.meshing import Fineness

    chord = fixed_value(complete(options.chord, "length", "mm"), "length")
    angle = fixed_value(complete(options.angle, "angle", "deg"), "angle")
    return Writing(fineness=Fineness(chord, angle), down=options.down, **more)


# --- commands -------------------------------------------------------------------------------------------


def _window(arguments: list[str]) -> int:
    """Start the window as a module of its own, so that the core never imports the interface."""
    import runpy

    sys.argv = ["architectonic", *arguments]
    runpy.run_module("architectonic.desktop", run_name="__main__", alter_sys=True)
    return 0


def _new(options: argparse.Namespace) -> int:
    from architectonic.family import edits
    from architectonic.session.open.session import Session

    sizes = tuple(s.strip() for s in options.sizes.split(",") if s.strip())
    family = edits.new_family(options.name or options.folder.resolve().name, sizes)
    Session.create(options.folder, family)
    print(f"made the family “{family.head.name}” in {options.folder}")
    return 0


def _demo(options: argparse.Namespace) -> int:
    if options.write is None:
        return _window(["--tutorial" if options.tutorial else "--demo"])
    if options.tutorial:
        from architectonic.demo.tutorial import write
    else:
        from architectonic.demo.family import write

    print(f"wrote “{write(options.write).family.head.name}” to {options.write}")
    return 0


class _Opened:
    """A family opened for one command, with its engine."""

    def __init__(self, options: argparse.Namespace) -> None:
        from architectonic.base.ids import new_id
        from architectonic.base.processes.scratch import place
        from architectonic.session.open.engine import Engine
        from architectonic.session.open.session import Session
        from architectonic.session.open.whatif import with_values

        store = place(f"store {new_id()}") if getattr(options, "no_cache", False) else None
        self.session = Session.open(options.family)
        self.changed = with_values(self.session.family, options.settings)
        self.engine = Engine.start(store, getattr(options, "jobs", 2), getattr(options, "cluster", ""))
        self.session.evaluator = self.engine.evaluator

    def __enter__(self) -> _Opened:
        return self

    def __exit__(self, *_: object) -> None:
        self.engine.close()


def _scopes(opened: _Opened, names: list[str], configuration: str) -> tuple[tuple[str, ...], list[Any]]:
    from architectonic.family import edits
    from architectonic.propagate.targets import all_scopes

    family = opened.changed
    documents = tuple(edits.find_document(family, n).id for n in names)
    if configuration:
        from architectonic.family import scopes

        known = {row for d in family.documents.values() for _, row in scopes.configurations(family, d)}
        if configuration not in known:
            raise UserFault(f"there is no configuration “{configuration}”", "", "there are " + ", ".join(sorted(known)))
    return documents, all_scopes(family, documents, configuration)


def _outside(opened: _Opened) -> list[dict[str, str]]:
    """What linked spreadsheets need, and documents that cannot be read."""
    from architectonic.session.files import unread
    from architectonic.session.tables import spreadsheets

    family, stored = opened.changed, opened.session.stored
    linked = any(d.links for d in family.documents.values())
    found = unread.entries(stored) + (
        spreadsheets.entries(family, spreadsheets.look(family, stored.folder)) if linked else []
    )
    return [{"where": i.where, "what": i.what, "mend": i.mend} for i in found]


def _bring(options: argparse.Namespace) -> int:
    from architectonic.family import edits, scopes
    from architectonic.session.open.session import Session

    session = Session.open(options.family)
    document = edits.find_document(session.family, options.document)
    if options.file.suffix.lower() == ".dxf":
        return _bring_drawing(options, session, document.id)
    from architectonic.exchange import apart
    from architectonic.session.tables import spreadsheets

    grid = apart.spreadsheet(options.file, options.sheet)
    found = spreadsheets.compare(session.family, document.id, grid)
    for where, what in found.faults:
        print(f"! {where}: {what}", file=sys.stderr)
    called = {"": "all sizes", **dict(scopes.configurations(session.family, document))}
    for c in found.changes:
        column = called.get(c.column, c.column)
        print(f"{c.name}, {column}: {c.before or '–'} → {c.after or 'as the others'}")
    if found.changes and not options.look:
        session.apply(f"take {options.file.name}", lambda f: spreadsheets.take(f, document.id, found))
        session.save()
    verb = "differ" if options.look else "taken"
    print(
        f"{len(found.changes)} cells {verb}, {len(found.faults)} cannot be used, {len(found.only_here)} rows are only here"
    )
    return 1 if found.faults else 0


def _bring_drawing(options: argparse.Namespace, session: Any, document: str) -> int:
    from architectonic.exchange import apart
    from architectonic.family import edits, names, scopes
    from architectonic.family.records import STANDARD_PLANES, Datum, Reference, Sketch
    from architectonic.session.sketch.bringing import Bringing, bring, layers_of

    plot = apart.drawing(options.file)
    layers_of(plot, options.layers)
    if options.look:
        print(f"unit {plot.unit or 'not said'}; " + ", ".join(f"{k}: {n}" for k, n in sorted(plot.layers().items())))
        print(f"left out: {plot.told() or 'nothing'}")
        return 0
    build = edits.model(session.family, document).build
    plane = None
    if options.plane:
        known = {**{n: n for n in STANDARD_PLANES}, **{o.name: o.id for o in build if isinstance(o, Datum)}}
        if options.plane not in known:
            raise UserFault(f"there is no plane “{options.plane}”", "", "planes are " + ", ".join(known))
        plane = Reference(item=known[options.plane])
    sketch = next((o.id for o in build if isinstance(o, Sketch) and options.sketch in ("", o.name)), "")
    if plane is None and not sketch:
        raise UserFault(f"there is no sketch “{options.sketch}”", "", "name one, or give --plane for a new one")
    name = options.sketch or names.free_name(options.file.stem, [o.name for o in build])
    along: Any = "y" if options.plane == "right" else "x"
    wanted = Bringing(options.unit, options.layers, options.join, name, plane, along)
    at = scopes.scope(session.family, document, "")
    told = []

    def edit(family: Any) -> Any:
        family, _, brought = bring(family, at, sketch, plot, wanted)
        told.append(brought)
        return family

    session.apply(f"bring in {options.file.name}", edit)
    session.save()
    print(f"{len(told[-1].curves)} curves, {told[-1].joined} ends joined; left out: {plot.told() or 'nothing'}")
    return 0


def _print(data: Any) -> None:
    json.dump(data, sys.stdout, indent=1, ensure_ascii=False, allow_nan=False)
    sys.stdout.write("\n")


def _build(options: argparse.Namespace) -> int:
    from architectonic.check.report import report

    with _Opened(options) as opened:
        documents, chosen = _scopes(opened, options.document, options.configuration)
        evaluation = opened.session.evaluate(chosen, family=opened.changed)
        data = report(evaluation, documents, tuple(chosen))
        data["attention"] += _outside(opened)
    if options.json:
        _print(data)
    else:
        _tell_build(data)
    return 1 if data["attention"] else 0


def _tell_build(data: dict[str, Any]) -> None:
    for name, document in data["documents"].items():
        for configuration, entry in document["configurations"].items():
            told = [f"{b['name']} {b['volume_mm3']:.1f} mm³" for b in entry["bodies"] if b["volume_mm3"] is not None]
            told += [f"{a['mass_g']:.1f} g" for a in entry.get("alternates", {}).values() if a["mass_g"] is not None]
            print(f"{name:<14} {configuration:<10} {entry['status']:<8} {', '.join(told)}")
    _tell_attention(data["attention"])
    work = data["work"]
    print(f"{work['nodes']} nodes, {work['computed']} computed, {work['reused']} reused, {work['total_seconds']:.2f} s")


def _tell_attention(entries: list[dict[str, Any]]) -> None:
    for entry in entries:
        print(f"! {entry['where']}: {entry['what']}" + (f"; {entry['mend']}" if entry["mend"] else ""))


def _impact(options: argparse.Namespace) -> int:
    from architectonic.check.impact import impact

    if not options.settings:
        raise UserFault("impact needs at least one --set NAME=EXPR")
    with _Opened(options) as opened:
        before = opened.session.evaluate()
        after = opened.session.evaluate(family=opened.changed)
        data = impact(before, after)
    if options.json:
        _print(data)
    else:
        for entry in data["changed"]:
            print(
                f"{entry['document']:<14} {entry['configuration']:<10} {entry['quantity']}: {entry['before']} → {entry['after']}"
            )
        print(f"unchanged: {', '.join(data['unchanged']) or 'nothing'}")
        _tell_attention(data["newly_failing"])
    broken = [r for r in data["rules"] if r["holds"] is not True]
    return 1 if data["newly_failing"] or broken else 0


def _cache(options: argparse.Namespace) -> int:
    from architectonic.base import stores
    from architectonic.base.folders import cache_folder

    folder = cache_folder()
    if options.clear:
        gone = stores.prune(folder, 0)
        print(f"deleted {gone.files} files, {gone.size / 1e6:.1f} MB")
    held = stores.held(folder)
    print(f"{folder}: {held.files} files, {held.size / 1e6:.1f} MB of at most {stores.limit() / 1e6:.0f} MB")
    return 0


def _check(options: argparse.Namespace) -> int:
    from architectonic.check.cells import entries
    from architectonic.check.junit import junit
    from architectonic.check.report import attention_entries, rule_entries

    with _Opened(options) as opened:
        evaluation = opened.session.evaluate(family=opened.changed)
        checks = entries(evaluation)
        data = {"rules": rule_entries(evaluation), "attention": attention_entries(evaluation), "checks": checks}
        data["attention"] += _outside(opened)
    if options.junit is not None:
        try:
            options.junit.write_bytes(junit(opened.changed.head.name, checks))
        except OSError as fault:
            raise EnvironmentFault(
                f"{options.junit} could not be written ({fault.strerror})", "name another file"
            ) from None
    if options.json:
        _print(data)
    else:
        _tell_attention(data["attention"])
        hold, count = sum(r["holds"] for r in data["rules"]), len(data["attention"])
        print(f"{hold} of {len(data['rules'])} rules hold, {count} need{'s' if count == 1 else ''} attention")
    return 1 if data["attention"] else 0


def _one_scope(opened: _Opened, options: argparse.Namespace) -> Scope:
    from architectonic.family import edits, scopes
    from architectonic.session.open.whatif import find_configuration

    family = opened.changed
    document = edits.find_document(family, options.document)
    alternate = (
        "" if options.alternate in ("", "default") else edits.find_alternate(family, document.id, options.alternate)
    )
    row = find_configuration(family, document.id, options.configuration) if options.configuration else ""
    return scopes.scope(family, document.id, row, alternate)


def _export(options: argparse.Namespace) -> int:
    from architectonic.check.attention import attention
    from architectonic.session.files.export import export

    with _Opened(options) as opened:
        at = _one_scope(opened, options)
        evaluation = opened.session.evaluate([at], family=opened.changed)
        wish = _wish(options, sketch=options.sketch, item=options.item, face=options.face, kerf=options.kerf)
        export(opened.engine, evaluation, at, options.to, wish)
        entries = attention(evaluation)
    print(f"wrote {options.to}")
    for item in entries:
        print(f"! {item.where}: {item.what}", file=sys.stderr)
    return 1 if entries else 0


def _range(options: argparse.Namespace) -> int:
    from architectonic.family import edits
    from architectonic.session.ranges.building import Far, build, write_files
    from architectonic.session.ranges.catalogue import write_catalogue

    def told(far: Far) -> None:
        if sys.stderr.isatty() and not options.json:
            left = "" if far.seconds is None else f", about {far.seconds:.0f} s left"
            print(f"\r{far.done} of at most {far.most}{left}    ", end="", file=sys.stderr)

    with _Opened(options) as opened:
        family, evaluator = opened.changed, opened.engine.evaluator
        document = edits.find_document(family, options.document).id
        made = build(evaluator, family, document, told=told)
        paths = write_files(
            opened.engine, made, options.to, f".{options.format}", options.names, _wish(options),
            [lambda folder: write_catalogue(made, folder)],
        )  # fmt: skip
    causes = [
        {"where": f"{i.where} ({', '.join(i.configurations)})", "what": i.what, "mend": i.mend} for i in made.causes
    ]
    if options.json:
        states = {r.name: {"status": "failing" if r.state == "failing" else "ok", "state": r.state} for r in made.rows}
        _print({"document": options.document, "rows": states, "files": [p.name for p in paths], "attention": causes})
    else:
        count = len(made.rows)
        print(f"{len(made.good)} of {count} configurations built, {len(paths)} files in {options.to}")
        _tell_attention(causes)
    return 1 if causes else 0


def _picture(options: argparse.Namespace) -> int:
    from architectonic.propagate.targets import Look
    from architectonic.render.pictures import picture_of

    try:
        width, height = (int(part) for part in options.size.lower().split("x"))
        if not (16 <= width <= 8192 and 16 <= height <= 8192):
            raise ValueError
    except ValueError:
        raise UserFault(
            f"“{options.size}” is not a size of a picture", "", "write WIDTHxHEIGHT, such as 1280x800"
        ) from None
    with _Opened(options) as opened:
        at = _one_scope(opened, options)
        evaluation = opened.session.evaluate([at], meshes=(Look(at),), family=opened.changed)
        picture_of(evaluation, at, options.view, width, height, options.to)
    print(f"wrote {options.to}")
    return 0


_RUNS: dict[str, Run] = {
    "new": _new, "demo": _demo, "build": _build, "impact": _impact, "check": _check, "bring": _bring, "cache": _cache,
    "range": _range, "export": _export, "picture": _picture,
}  # fmt: skip


if __name__ == "__main__":
    sys.exit(main())
