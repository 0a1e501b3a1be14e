"""Figures of an assembly in words: what it weighs, how large it is, what it runs into, how freely it moves."""

from __future__ import annotations

from architectonic.describe.assembly.balance import Balance
from architectonic.describe.assembly.clashes import Clashes
from architectonic.describe.assembly.extents import Extents
from architectonic.describe.assembly.posing import Mobility, Posed
from architectonic.describe.results import Node
from architectonic.family.scopes import Scope
from architectonic.propagate.evaluation import Evaluation


def assembly_facts(evaluation: Evaluation, at: Scope) -> list[tuple[str, str]]:
    """What is known of an assembly: a word and its figure."""
    placed = evaluation.value(Node("assembly", at, "")) or ()
    rows = [("Instances", str(len(placed)))]
    extents = evaluation.value(Node("extents", at, ""))
    mass, box = (extents.whole.mass, extents.whole.box) if isinstance(extents, Extents) else (None, None)
    if mass is not None:
        rows.append(("Mass", f"{mass:.1f} g"))
    if box is not None:
        rows.append(("Box", " × ".join(f"{high - low:.1f}" for low, high in zip(box[:3], box[3:], strict=True))))
    balance = evaluation.value(Node("balance", at, ""))
    if isinstance(balance, Balance):
        rows.append(("Centre", ", ".join(f"{c:.1f}" for c in balance.centre)))
        for axis, moment in zip("xyz", balance.inertia, strict=False):
            rows.append((f"Inertia {axis}", f"{moment / 1000:.4g} kg mm²"))
    posed, mobility = evaluation.value(Node("posed", at, "")), evaluation.value(Node("mobility", at, ""))
    if isinstance(posed, Posed) and posed.reached and isinstance(mobility, Mobility):
        rows.append(("Freedoms", str(mobility.freedoms) if mobility.freedoms else "none, held"))
        bonds = {b.id: b.name for b in getattr(evaluation.family.documents[at.document], "bonds", ())}
        rows += [("Dead centre", bonds[k]) for k in mobility.dead if k in bonds]
    rows += _play(evaluation, at)
    rows.append(("Interference", interference(evaluation, at)))
    return rows


def _play(evaluation: Evaluation, at: Scope) -> list[tuple[str, str]]:
    """Where joints with play let something shift farthest."""
    slack = evaluation.value(Node("slack", at, ""))
    if not slack:
        return []
    worst = max(slack, key=lambda k: slack[k])
    names = {i.id: i.name for i in getattr(evaluation.family.documents[at.document], "instances", ())}
    return [("Play", f"{slack[worst]:.3f} mm, {names.get(worst, '')}")]


def interference(evaluation: Evaluation, at: Scope) -> str:
    """`none`, `2 pairs, 14.2 mm³`; `…` while it is not known, `not known` where bodies could not be compared."""
    outcome = evaluation.outcomes.get(Node("clashes", at, ""))
    if outcome is None:
        return "…"
    found = outcome.value
    if not isinstance(found, Clashes):
        return "not known"
    if not found.pairs:
        return "not known" if found.unknown else "none"
    count = len(found.pairs)
    return f"{count} pair{'' if count == 1 else 's'}, {found.volume:.4g} mm³"
