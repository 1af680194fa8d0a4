"""The desk: table, panel, angles, bulk actions with undo, exports, insight."""
