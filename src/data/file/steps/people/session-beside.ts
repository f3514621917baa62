/** A session that another one made (inside another site's frame) ends with it, however that ends. */
export const SESSION_BESIDE = `ALTER TABLE sys_sessions ADD COLUMN beside TEXT;
  CREATE INDEX sys_sessions_beside ON sys_sessions (beside) WHERE beside IS NOT NULL;
  CREATE TRIGGER sys_sessions_together AFTER DELETE ON sys_sessions BEGIN DELETE FROM sys_sessions WHERE beside = OLD.hash; END;`;
