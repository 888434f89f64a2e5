import pg from 'pg';
import { until } from './wait';

/** Resolves when the background has looked at the signals, at what falls and at what is to be told, beginning after `since` (epoch ms). */
export const lookedSince = async (databaseUrl: string, since: number): Promise<void> => {
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  try {
    await until('look of the background', async () => {
      const { rows } = await client.query<{ at: Date }>('select at from alert_state');
      return rows.some((r) => r.at.getTime() > since);
    });
  } finally {
    await client.end();
  }
};
