/** The log is looked through by who did what to whose record, and by what is noted beside it: each from its newest on, at any length. */
export const LOG_INDEXES = `
  CREATE INDEX sys_events_act ON sys_events (act, id);
  CREATE INDEX sys_events_company ON sys_events (company_id, id) WHERE company_id IS NOT NULL;
  CREATE INDEX sys_events_actor ON sys_events (actor_id, id) WHERE actor_id IS NOT NULL;
  CREATE INDEX sys_events_detail ON sys_events (id, detail) WHERE detail IS NOT NULL;`;
