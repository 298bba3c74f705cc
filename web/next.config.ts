import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { NextConfig } from 'next';

const config: NextConfig = {
  transpilePackages: ['@mesura/core'],
  turbopack: { root: join(dirname(fileURLToPath(import.meta.url)), '..') },
  serverExternalPackages: ['mysql2', 'pdfmake', 'piscina'],
  poweredByHeader: false,
  reactStrictMode: true,
  devIndicators: false,
  headers: async () => [
    {
      source: '/:path*',
      headers: [
        { key: 'X-Content-Type-Options', value: 'nosniff' },
        { key: 'X-Frame-Options', value: 'DENY' },
        { key: 'Referrer-Policy', value: 'same-origin' },
      ],
    },
  ],
};

export default config;
