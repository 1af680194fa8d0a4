-- What a business is to us has one name in the database, the code and the API.
ALTER TABLE business RENAME COLUMN standing TO relationship;
ALTER TABLE standing RENAME TO relationship;
ALTER TABLE relationship RENAME COLUMN known_by TO identifier_type;
UPDATE preset SET body = replace(replace(body, '"standing"', '"relationship"'), 'state=standing', 'state=relationship');
UPDATE view_link SET filter = replace(replace(filter, '"standing"', '"relationship"'), 'state=standing', 'state=relationship'),
  columns = replace(columns, 'standing', 'relationship'), sort = replace(sort, 'standing', 'relationship');
UPDATE deed SET undo = replace(replace(undo, '"standings"', '"relationships"'), '"standing"', '"relationship"');
UPDATE angle SET filter = replace(filter, '"standing"', '"relationship"');
UPDATE call_list SET columns = replace(columns, '"standing"', '"relationship"');
