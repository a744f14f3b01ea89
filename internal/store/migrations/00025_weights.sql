-- +goose Up
-- A dog's weight of now is the first that is known of it: an older one that is written down later does not take its place.
INSERT INTO health (id, dog, kind, day, kg, said, made)
  SELECT lower(hex(randomblob(16))), d.id, 'weight', date('now'), d.weight_kg, 'As it stood in its file.', CAST(strftime('%s', 'now') AS INTEGER) * 1000
  FROM dogs d WHERE d.weight_kg IS NOT NULL AND NOT EXISTS (SELECT 1 FROM health h WHERE h.dog = d.id AND h.kind = 'weight');
