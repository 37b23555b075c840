import globalData from '@csstools/postcss-global-data'
import vue from '@vitejs/plugin-vue'
import customMedia from 'postcss-custom-media'
import { defineConfig } from 'vite'

export default defineConfig({
  base: '/static/web/',
  plugins: [vue()],
  css: { postcss: { plugins: [globalData({ files: ['src/theme/breakpoints.css'] }), customMedia()] } },
  build: {
    assetsInlineLimit: 0,
    modulePreload: { polyfill: false },
    chunkSizeWarningLimit: 900,
  },
})
