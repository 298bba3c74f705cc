import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { NextConfig } from 'next';

const config: NextConfig = {
  transpilePackages: ['@mesura/core', '@mesura/cli'],
  turbopack: { root: join(dirname(fileURLToPath(import.meta.url)), '..') },
  serverExternalPackages: ['@node-rs/argon2', 'jsmodbus', 'mysql2', 'pdfmake', 'piscina'],
  poweredByHeader: false,
  reactStrictMode: true,
  devIndicators: false,
};

export default config;
