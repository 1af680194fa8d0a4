-- A saved plan can be edited; a run keeps the plan that it was begun with.
ALTER TABLE run ADD COLUMN plan TEXT NOT NULL DEFAULT '';
UPDATE run SET plan = (SELECT plan FROM sweep WHERE sweep.id = run.sweep_id);
