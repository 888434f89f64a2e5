/** What every use case shares in a process: the database. Everything else here is a cache that any process can rebuild. */
import { openDatabase, type Database } from '../db/database';
import { runtime } from './runtime';

/** The process's database; opened on first use. */
export const database = (): Database => {
  const url = process.env['DATABASE_URL'];
  if (!url) throw new Error('DATABASE_URL is not set; start the application with ./signal-post start');
  return (runtime.database ??= openDatabase(url));
};
