import type { Brand } from '../core/messages/brand.ts'

/** How Combwright's messages look. `logo` is where its logo can be loaded from. */
export const combwrightBrand = (logo: string): Brand => ({
  format: 'yomble.brand',
  formatVersion: 1,
  name: 'Combwright',
  logo: { src: logo, alt: 'Combwright', width: 196, height: 40 },
  colours: {
    ground: '#f6efdf',
    paper: '#ffffff',
    ink: '#2a2418',
    accent: '#8a5a0b',
    onAccent: '#ffffff',
  },
  fonts: { headings: 'serif', text: 'sans' },
  footer: 'Hives, tools and advice for people who keep bees.',
  postalAddress: 'Combwright\nRua das Colmeias 12\n2710-405 Sintra',
  helpEmail: 'care@combwright.example',
  links: [
    { label: 'Guides', href: 'https://combwright.example/guides' },
    { label: 'Classes', href: 'https://combwright.example/classes' },
  ],
  social: [
    { label: 'Beekeepers’ forum', href: 'https://forum.combwright.example' },
    { label: 'Pictures', href: 'https://pictures.combwright.example' },
  ],
})
