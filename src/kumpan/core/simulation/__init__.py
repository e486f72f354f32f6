"""A pool that lives by itself: weather, water, algae and machines in hourly steps, with everything passed in.

It makes data for the demo and for tests, and drives the stand-ins. Nothing that fits or advises may import
it: what is true of a simulated pool is hidden from all advice (a contract of the imports).
"""
