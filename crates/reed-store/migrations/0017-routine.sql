-- What the routine needs: a mark on each tank's log that is never the same again once anything of it
-- changed, so that what follows from a log can be kept until then.

CREATE TABLE log_stamps (
    tank_id     INTEGER PRIMARY KEY REFERENCES tanks (id) ON DELETE CASCADE,
    stamp       INTEGER NOT NULL                -- drawn anew at each change
) STRICT;

CREATE TRIGGER entries_stamp_new AFTER INSERT ON entries BEGIN
    INSERT INTO log_stamps (tank_id, stamp) VALUES (new.tank_id, random())
    ON CONFLICT (tank_id) DO UPDATE SET stamp = excluded.stamp;
END;
CREATE TRIGGER entries_stamp_change AFTER UPDATE ON entries BEGIN
    INSERT INTO log_stamps (tank_id, stamp) VALUES (new.tank_id, random())
    ON CONFLICT (tank_id) DO UPDATE SET stamp = excluded.stamp;
END;
CREATE TRIGGER entries_stamp_gone AFTER DELETE ON entries BEGIN
    UPDATE log_stamps SET stamp = random() WHERE tank_id = old.tank_id;
END;
