-- Two checks have other ids: theirs → site_ownership, really_none → no_website_confirmed. Findings of past audits keep theirs.
UPDATE finding SET check_id = 'site_ownership' WHERE check_id = 'theirs';
UPDATE finding SET check_id = 'no_website_confirmed' WHERE check_id = 'really_none';
UPDATE audit_event SET check_id = 'site_ownership' WHERE check_id = 'theirs';
UPDATE audit_event SET check_id = 'no_website_confirmed' WHERE check_id = 'really_none';
UPDATE business SET outcomes = replace(replace(outcomes, '"theirs":', '"site_ownership":'), '"really_none":', '"no_website_confirmed":');
UPDATE service SET body = replace(replace(body, '"theirs"', '"site_ownership"'), '"really_none"', '"no_website_confirmed"');
UPDATE service_version SET body = replace(replace(body, '"theirs"', '"site_ownership"'), '"really_none"', '"no_website_confirmed"');
UPDATE angle SET filter = replace(replace(filter, '"check.theirs"', '"check.site_ownership"'), '"check.really_none"', '"check.no_website_confirmed"');
UPDATE preset SET body = replace(replace(body, '"check.theirs"', '"check.site_ownership"'), '"check.really_none"', '"check.no_website_confirmed"');
UPDATE owner_page SET facts = replace(replace(facts, '"theirs"', '"site_ownership"'), '"really_none"', '"no_website_confirmed"');
