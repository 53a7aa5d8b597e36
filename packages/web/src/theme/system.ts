import { createSystem, defaultBaseConfig, defineConfig } from '@chakra-ui/react';
import {
  animationStyles,
  badgeRecipe,
  breakpoints,
  buttonRecipe,
  checkboxSlotRecipe,
  checkmarkRecipe,
  cssVarsPrefix,
  cssVarsRoot,
  datePickerSlotRecipe,
  dialogSlotRecipe,
  editableSlotRecipe,
  fieldSlotRecipe,
  fileUploadSlotRecipe,
  globalCss,
  headingRecipe,
  iconRecipe,
  inputAddonRecipe,
  inputRecipe,
  kbdRecipe,
  keyframes,
  layerStyles,
  linkRecipe,
  listboxSlotRecipe,
  menuSlotRecipe,
  nativeSelectSlotRecipe,
  popoverSlotRecipe,
  semanticTokens,
  spinnerRecipe,
  tableSlotRecipe,
  tabsSlotRecipe,
  textareaRecipe,
  textStyles,
  tokens,
} from '@chakra-ui/react/theme';

const pair = (light: string, dark: string) => ({ value: { base: light, _dark: dark } });

const paper = pair('#F6F4EF', '#14181E');
const leaf = pair('#FFFFFF', '#1B2028');
const rule = pair('#DCD8CE', '#333B46');
const ink = pair('#18212C', '#ECE8DF');
const inkSoft = pair('#566270', '#A5AFBA');
const brass = pair('#8A6410', '#D9B04C');
const brassWash = pair('#F5ECD6', '#362C14');
const madder = pair('#A3263C', '#F08A9A');
/** Edges of controls: darker than a rule, as WCAG 1.4.11 asks (3:1 against leaf). */
const edge = pair('#8B8676', '#737E8B');

/**
 * Of Chakra's colours those that its own tokens name. Its palettes are left out, as components take
 * the palette `ink`: each would cost a phone some milliseconds before it draws anything.
 */
const { transparent, current, black, white, whiteAlpha, blackAlpha } = tokens.colors;
const { gray, red, orange, green, blue } = tokens.colors;
const { bg, fg, border, gray: grayPalette } = semanticTokens.colors;

/** What Chakra gives the components that are used here: the others are not loaded. */
const base = defineConfig({
  preflight: true,
  cssVarsPrefix,
  cssVarsRoot,
  globalCss,
  theme: {
    breakpoints,
    keyframes,
    tokens: {
      ...tokens,
      colors: {
        ...{ transparent, current, black, white, whiteAlpha, blackAlpha },
        ...{ gray, red, orange, green, blue },
      },
    },
    semanticTokens: { ...semanticTokens, colors: { bg, fg, border, gray: grayPalette } },
    textStyles,
    layerStyles,
    animationStyles,
    recipes: {
      badge: badgeRecipe,
      button: buttonRecipe,
      checkmark: checkmarkRecipe,
      heading: headingRecipe,
      icon: iconRecipe,
      input: inputRecipe,
      inputAddon: inputAddonRecipe,
      kbd: kbdRecipe,
      link: linkRecipe,
      spinner: spinnerRecipe,
      textarea: textareaRecipe,
    },
    slotRecipes: {
      checkbox: checkboxSlotRecipe,
      datePicker: datePickerSlotRecipe,
      dialog: dialogSlotRecipe,
      editable: editableSlotRecipe,
      field: fieldSlotRecipe,
      fileUpload: fileUploadSlotRecipe,
      listbox: listboxSlotRecipe,
      menu: menuSlotRecipe,
      nativeSelect: nativeSelectSlotRecipe,
      popover: popoverSlotRecipe,
      table: tableSlotRecipe,
      tabs: tabsSlotRecipe,
    },
  },
});

/** The look: semantic tokens, light and dark. Components name these and no other colours. */
export const system = createSystem(
  defaultBaseConfig,
  base,
  defineConfig({
    theme: {
      tokens: {
        fonts: {
          body: { value: "'Atkinson Hyperlegible Next Variable', system-ui, sans-serif" },
          heading: { value: "'Atkinson Hyperlegible Next Variable', system-ui, sans-serif" },
          mono: { value: "'Atkinson Hyperlegible Mono Variable', ui-monospace, monospace" },
        },
        radii: { l1: { value: '4px' }, l2: { value: '4px' }, l3: { value: '8px' } },
      },
      semanticTokens: {
        colors: {
          paper,
          leaf,
          rule,
          edge,
          ink: {
            DEFAULT: ink,
            soft: inkSoft,
            // As a palette of Chakra's components.
            solid: ink,
            contrast: leaf,
            fg: ink,
            muted: rule,
            subtle: paper,
            emphasized: rule,
            focusRing: brass,
            border: edge,
          },
          brass: { DEFAULT: brass, wash: brassWash },
          pine: pair('#2C6A5B', '#7CC4B1'),
          madder,
          amber: pair('#9A5200', '#F0B266'),
          slate: pair('#2F5573', '#8FB8DA'),
          bg: {
            DEFAULT: paper,
            panel: leaf,
            subtle: paper,
            muted: paper,
            emphasized: rule,
            error: leaf,
          },
          fg: { DEFAULT: ink, muted: inkSoft, subtle: inkSoft, error: madder },
          border: { DEFAULT: rule, emphasized: edge, muted: rule, subtle: rule, error: madder },
        },
        shadows: { float: { value: '0 6px 24px rgb(0 0 0 / 0.18)' } },
      },
    },
    globalCss: {
      // Read out, not seen.
      '.varn-announced': {
        position: 'fixed',
        width: '1px',
        height: '1px',
        overflow: 'hidden',
        clipPath: 'inset(50%)',
        whiteSpace: 'nowrap',
      },
      html: { colorPalette: 'ink' },
      'html, body, #root': { height: '100%' },
      body: {
        bg: 'paper',
        color: 'ink',
        fontSize: '14px',
        lineHeight: '1.45',
        fontVariantNumeric: 'tabular-nums',
      },
      // Phones zoom into whatever is typed into with smaller letters.
      'input, textarea, select': {
        '@media (pointer: coarse)': { fontSize: '16px !important' },
      },
      '[aria-selected=true], [data-highlighted], [aria-current], .grid-cell.active': {
        '@media (forced-colors: active)': {
          outline: '2px solid Highlight',
          outlineOffset: '-2px',
        },
      },
      '.sr-only': {
        position: 'absolute',
        width: '1px',
        height: '1px',
        overflow: 'hidden',
        clipPath: 'inset(50%)',
      },
      ':focus-visible': { outline: '2px solid {colors.brass}', outlineOffset: '1px' },
      '*, *::before, *::after': {
        _motionReduce: { animation: 'none !important', transition: 'none !important' },
      },
    },
  }),
);
