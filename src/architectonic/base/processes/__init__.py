"""Processes: who holds something, what one has computed, folders that end with one."""
