-- What a condition asks about is an attribute; it was called a fact. Texts that people wrote cannot look like this: in JSON
-- their quotation marks have a backslash before them.
update edition set definition = replace(definition::text, '"fact": "', '"attribute": "')::jsonb where definition::text like '%"fact": "%';
update point set working_copy = replace(working_copy::text, '"fact": "', '"attribute": "')::jsonb where working_copy::text like '%"fact": "%';
update segment set condition = replace(condition::text, '"fact": "', '"attribute": "')::jsonb where condition::text like '%"fact": "%';
update scorecard_edition set definition = replace(definition::text, '"fact": "', '"attribute": "')::jsonb where definition::text like '%"fact": "%';
update routing_edition set definition = replace(definition::text, '"fact": "', '"attribute": "')::jsonb where definition::text like '%"fact": "%';
