"""Diagnosis, planning and the plan as shown."""
