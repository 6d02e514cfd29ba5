-- What was read by hand is found among the many readings of devices.

CREATE INDEX readings_by_hand ON readings (tank_id, taken_at) WHERE device_id IS NULL;
