"""The only SQL of this room. A connection comes first in every function; rows are mapped here."""
