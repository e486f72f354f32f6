"""Readings from other programs' tables: bytes to cells, cells to columns of meaning, rows to tests."""
