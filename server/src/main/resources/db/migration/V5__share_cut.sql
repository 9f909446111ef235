-- What the limit on bright indirect light has taken of a frame's light, 0 to 1.
alter table frame add column share_cut double precision;
