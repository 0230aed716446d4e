import { defineConfig } from 'drizzle-kit';

export default defineConfig({
  dialect: 'sqlite',
  schema: './src/store/base/schema.ts',
  out: './src/store/migrations',
  casing: 'snake_case',
});
