-- Credentials of before may be sent where the scopes that try them ask by now, and nowhere else.
WITH asked AS (
  SELECT credential.id AS credential, scope.body AS body
  FROM credential
  JOIN scope ON EXISTS (
    SELECT 1 FROM json_each(scope.body, '$.credentials') AS tried WHERE tried.value = credential.name
  ) OR EXISTS (
    SELECT 1 FROM json_each(scope.body, '$.writeCredentials') AS tried WHERE tried.value = credential.name
  )
),
rule AS (
  SELECT credential, replace(replace(line.value, '=', ' via '), ':', ' port ') || ' ' AS line
  FROM asked, json_each(asked.body, '$.translations') AS line
),
via AS (
  SELECT credential, line, ltrim(substr(line, instr(line, ' via ') + 5)) AS outside
  FROM rule
  WHERE instr(line, ' via ') > 0
),
prefix AS (
  SELECT credential, line.value AS text FROM asked, json_each(asked.body, '$.ranges') AS line
  UNION
  SELECT credential, line.value FROM asked, json_each(asked.body, '$.neighbourWithin') AS line
  UNION
  SELECT credential, private.value
  FROM asked, json_each('["10.0.0.0/8","172.16.0.0/12","192.168.0.0/16"]') AS private
  WHERE json_extract(asked.body, '$.neighbourSteps') > 0
    AND coalesce(json_array_length(asked.body, '$.neighbourWithin'), 0) = 0
  UNION
  SELECT credential, substr(outside, 1, instr(outside, ' ') - 1) FROM via
),
port AS (
  SELECT credential, coalesce(json_extract(body, '$.port'), 161) AS number FROM asked
  UNION
  SELECT credential, coalesce(json_extract(body, '$.httpsPort'), 443) FROM asked
  UNION
  SELECT credential, CAST(substr(line, instr(line, ' port ') + 6) AS INTEGER) FROM via WHERE instr(line, ' port ') > 0
  UNION
  SELECT credential, CAST(substr(line, instr(line, ' https ') + 7) AS INTEGER) FROM via WHERE instr(line, ' https ') > 0
)
UPDATE credential
SET shown = json_set(
  credential.shown,
  '$.approved',
  json_object(
    'prefixes', (SELECT json_group_array(prefix.text) FROM prefix WHERE prefix.credential = credential.id),
    'ports', (SELECT json_group_array(port.number) FROM port WHERE port.credential = credential.id)
  )
);
