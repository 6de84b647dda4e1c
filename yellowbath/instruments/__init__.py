"""Supplies and meters on a line: what they can be asked, how they are spoken to, and a stand-in.

A machine may lower or switch off; only hands switch on: nothing in here can switch a bath on or
raise a limit.
"""
