"""The store: all SQL of the product. A connection comes first in every function; rows are mapped here and nowhere else."""
