import type { Config } from 'drizzle-kit';

const config: Config = { dialect: 'sqlite', schema: './apps/server/src/db/schema.ts', out: './apps/server/drizzle' };
export default config;
