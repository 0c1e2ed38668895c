import { Button, createTheme, type MantineColorsTuple, Modal } from '@mantine/core';

/** Ten shades about the channel blue of the palette; the seventh is the primary action by day, the fourth by night. */
const channel: MantineColorsTuple = [
  '#E6F1F4',
  '#CFE4EA',
  '#A6CCD8',
  '#7AB3C4',
  '#55A0B5',
  '#2F8299',
  '#1B6E83',
  '#175E70',
  '#12445A',
  '#0B2F40',
];

/** From ink on night paper to the deepest ground; Mantine takes inputs from the seventh and borders from the fifth. */
const dark: MantineColorsTuple = [
  '#E9E4D3',
  '#CBCBC4',
  '#A3ADBA',
  '#7D8898',
  '#4A5A6E',
  '#2B3A4E',
  '#1B2A3D',
  '#0E1826',
  '#0A121D',
  '#070D15',
];

export const theme = createTheme({
  fontFamily: "'Atkinson Hyperlegible Next', sans-serif",
  fontFamilyMonospace: "'Atkinson Hyperlegible Mono', monospace",
  colors: { channel, dark },
  primaryColor: 'channel',
  primaryShade: { light: 6, dark: 3 },
  autoContrast: true,
  black: '#15233B',
  defaultRadius: 3,
  cursorType: 'pointer',
  fontSizes: { xs: '12px', sm: '13px', md: '14px', lg: '16px', xl: '20px' },
  respectReducedMotion: true,
  components: {
    // Mantine takes the contrast colour of a filled button from the day's shade, in both schemes.
    Button: Button.extend({ vars: (_, { variant }) => ({ root: variant === undefined ? { '--button-color': 'var(--on-channel)' } : {} }) }),
    Modal: Modal.extend({ defaultProps: { closeButtonProps: { 'aria-label': 'Close' } } }),
  },
});
