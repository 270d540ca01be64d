#!/usr/bin/env node
// npx mellow: the command line. It is TypeScript as it stands, as the server is.
import { register } from 'tsx/esm/api';

register();
await import('../src/main.ts');
