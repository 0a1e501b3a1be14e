"""Rigid bodies in space, held by rules and joints: numbers only, as sketch/ is for curves in a plane."""
