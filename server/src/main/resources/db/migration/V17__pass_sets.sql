-- Sets of passes that every production begins with, for those that are there.
insert into definition (version, production_id, kind, name, place, document)
  select 1, id, 'pass set', 'picture', 0,
    '{"wanted": ["beauty"], "lightGroups": {}, "occlusionRadius": 1.0, "occlusionFalloff": 1.0, "matteRanks": 6, "own": {}, "deepTolerance": 0.0}'
  from production;
insert into definition (version, production_id, kind, name, place, document)
  select 1, id, 'pass set', 'picture-and-data', 1,
    '{"wanted": ["beauty", "depth", "normal", "albedo"], "lightGroups": {}, "occlusionRadius": 1.0, "occlusionFalloff": 1.0, "matteRanks": 6, "own": {}, "deepTolerance": 0.0}'
  from production;
insert into definition (version, production_id, kind, name, place, document)
  select 1, id, 'pass set', 'light', 2,
    '{"wanted": ["beauty", "diffuse-direct", "diffuse-indirect", "specular-direct", "specular-indirect", "transmission-direct", "transmission-indirect", "sheen", "clearcoat", "emission", "environment"], "lightGroups": {}, "occlusionRadius": 1.0, "occlusionFalloff": 1.0, "matteRanks": 6, "own": {}, "deepTolerance": 0.0}'
  from production;
insert into definition (version, production_id, kind, name, place, document)
  select 1, id, 'pass set', 'light-and-data', 3,
    '{"wanted": ["beauty", "diffuse-direct", "diffuse-indirect", "specular-direct", "specular-indirect", "transmission-direct", "transmission-indirect", "sheen", "clearcoat", "emission", "environment", "depth", "normal", "albedo", "motion-next", "matte-objects", "ambient-occlusion"], "lightGroups": {}, "occlusionRadius": 1.0, "occlusionFalloff": 1.0, "matteRanks": 6, "own": {}, "deepTolerance": 0.0}'
  from production;
