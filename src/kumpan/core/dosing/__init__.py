"""Dosing: from readings to ordered additions: request, findings, sizing, schedule, simulation, plan."""
