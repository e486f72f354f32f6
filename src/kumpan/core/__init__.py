"""The trade's rules and arithmetic. Pure: no web, database, settings, clock or file system.

Inside: litres, grams, millilitres, ppm (mg/L), degrees Celsius, minutes.
"""
