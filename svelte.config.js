import adapter from '@sveltejs/adapter-node';

/** @type {import('@sveltejs/kit').Config} */
export default {
  kit: {
    adapter: adapter({ out: 'build/web', precompress: false }),
    alias: { $core: 'src/core' },
    csp: {
      mode: 'hash',
      directives: {
        'default-src': ['self'],
        'script-src': ['self'],
        'style-src': ['self', 'unsafe-inline'],
        'img-src': ['self', 'data:', 'blob:'],
        'font-src': ['self'],
        'connect-src': ['self'],
        'worker-src': ['self', 'blob:'],
        'object-src': ['none'],
        'base-uri': ['none'],
        'frame-ancestors': ['none'],
      },
    },
    typescript: {
      config(config) {
        config.include.push(
          '../scripts/**/*.ts',
          '../bench/**/*.ts',
          '../tools/**/*.ts',
          '../tests/**/*.ts',
          '../drizzle.config.ts',
        );
        config.compilerOptions.allowImportingTsExtensions = true;
        config.compilerOptions.noUncheckedIndexedAccess = true;
        config.compilerOptions.exactOptionalPropertyTypes = false;
        return config;
      },
    },
  },
};
