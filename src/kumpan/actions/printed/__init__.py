"""Sheets of paper: a plan, Today, a parts list, drawn as PDF in black and white."""
