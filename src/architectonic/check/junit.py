"""Checks as JUnit XML, which servers that build read (common practice: the form of Ant's JUnit task)."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any
from xml.etree import ElementTree


def junit(family: str, entries: Sequence[dict[str, Any]]) -> bytes:
    """A suite for each document in each configuration and alternate; a case for each ask.

    What is out of rule is a failure, what cannot be worked out an error.

    Args:
        entries: as of `check.cells.entries`.
    """
    suites: dict[str, list[dict[str, Any]]] = {}
    for one in entries:
        where = ", ".join(n for n in (one["document"], one["configuration"], one["alternate"]) if n)
        suites.setdefault(where, []).append(one)
    root = ElementTree.Element("testsuites", {"name": family, **_counts(entries)})
    for where, those in suites.items():
        suite = ElementTree.SubElement(root, "testsuite", {"name": where, **_counts(those)})
        for one in those:
            case = ElementTree.SubElement(suite, "testcase", classname=where, name=one["name"])
            told = _plain(one["message"] or one["state"])
            if one["state"] == "out of rule":
                ElementTree.SubElement(case, "failure", message=told, type="out of rule").text = told
            elif one["state"] in ("failing", "updating"):
                ElementTree.SubElement(case, "error", message=told, type=one["state"]).text = told
    return bytes(ElementTree.tostring(root, encoding="utf-8", xml_declaration=True))


def _counts(entries: Sequence[dict[str, Any]]) -> dict[str, str]:
    states = [e["state"] for e in entries]
    bad = sum(s in ("failing", "updating") for s in states)
    return {"tests": str(len(states)), "failures": str(states.count("out of rule")), "errors": str(bad)}


def _plain(text: str) -> str:
    """Without signs that XML cannot hold."""
    return "".join(c if c.isprintable() or c in "\n\t" else " " for c in text)
