import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { NextConfig } from 'next';

const config: NextConfig = {
  transpilePackages: ['@mesura/core', '@mesura/cli'],
  turbopack: {
    root: join(dirname(fileURLToPath(import.meta.url)), '..'),
    // The interpreter of scripts, in the form that asks for nothing of Node.
    resolveAlias: {
      '@jitl/quickjs-singlefile-mjs-release-sync': { browser: '@jitl/quickjs-singlefile-browser-release-sync' },
    },
  },
  serverExternalPackages: ['@node-rs/argon2', 'jsmodbus', 'mysql2', 'pdfmake', 'piscina'],
  poweredByHeader: false,
  reactStrictMode: true,
  devIndicators: false,
};

export default config;
