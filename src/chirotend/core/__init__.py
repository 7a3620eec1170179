"""The rules and the arithmetic: functions of their arguments only.

Nothing here reads a clock, a store, the network or a file other than the packaged tables (`core/tables.py`).
Units: minutes, effort 0-10, intensity 0-10, load in arbitrary units (AU = minutes x effort), days as dates.
"""
