"""Complaints: short guides from what is seen to the likely cause and the test that settles it."""
