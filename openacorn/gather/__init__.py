"""Gathering: territories, sweeps, sources, recipes, imports, estimates, coverage."""
