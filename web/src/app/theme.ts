import { theme, type ThemeConfig } from 'antd';

/** The whole palette, by day. Jade says ours, done, go; clay says conflict; nothing else has a colour. */
export const light = {
  paper: '#f6f4ed',
  sheet: '#fdfcf8',
  ink: '#1b2a27',
  ink2: '#4b5b56',
  ink3: '#5f6c67',
  rule: '#ddd8ca',
  rule2: '#ebe7dc',
  jade: '#0f6b52',
  jade5: '#2a9477',
  jade3: '#9ccfbc',
  jade2: '#bfe0d3',
  jade15: '#d9ece4',
  jade1: '#e4f1eb',
  jade05: '#ebf4ef',
  clay: '#a5482a',
  clay1: '#f6e3da',
  bar: '#1b2a27',
  barInk: '#eef3f0',
  barSoft: '#a9b8b2',
  barRule: '#4b5b56',
};

export type Tokens = typeof light;

/** The same by night. */
export const dark: Tokens = {
  paper: '#141d1a',
  sheet: '#1a2421',
  ink: '#e7ede9',
  ink2: '#b9c6c0',
  ink3: '#9aa9a3',
  rule: '#35443e',
  rule2: '#293632',
  jade: '#6fcbab',
  jade5: '#4fa98b',
  jade3: '#2f6d58',
  jade2: '#285a49',
  jade15: '#22493c',
  jade1: '#1f3e34',
  jade05: '#1c3029',
  clay: '#eb9a7a',
  clay1: '#4d2d21',
  bar: '#0d1412',
  barInk: '#e7ede9',
  barSoft: '#a9b8b2',
  barRule: '#4b5b56',
};

const sans = '"Source Sans 3 Variable", "Source Sans 3", system-ui, sans-serif';
const serif = '"Source Serif 4 Variable", "Source Serif 4", Georgia, serif';

/** Makes the tokens known to the style sheets. */
export function applyTokens(isDark: boolean) {
  const style = document.documentElement.style;
  for (const [name, value] of Object.entries(isDark ? dark : light)) style.setProperty(`--${name}`, value);
  style.setProperty('--sans', sans);
  style.setProperty('--serif', serif);
  style.setProperty('color-scheme', isDark ? 'dark' : 'light');
}

/** The same tokens for Ant Design. Its compact form takes 2 px off the font size. */
export function antTheme(isDark: boolean): ThemeConfig {
  const tokens = isDark ? dark : light;
  return {
    algorithm: isDark ? [theme.darkAlgorithm, theme.compactAlgorithm] : theme.compactAlgorithm,
    token: {
      colorPrimary: tokens.jade,
      colorPrimaryBg: tokens.jade1,
      colorLink: tokens.jade,
      colorError: tokens.clay,
      colorWarning: tokens.clay,
      colorSuccess: tokens.jade,
      colorInfo: tokens.jade,
      colorText: tokens.ink,
      colorTextSecondary: tokens.ink2,
      colorTextPlaceholder: tokens.ink3,
      colorBgBase: tokens.sheet,
      colorBgContainer: tokens.sheet,
      colorBgElevated: tokens.sheet,
      colorBorder: tokens.rule,
      colorBorderSecondary: tokens.rule2,
      borderRadius: 3,
      fontFamily: sans,
      fontSize: 16,
      // Nothing moves: a button whose loading icon is on its way out is not yet the button again.
      motion: false,
    },
    // A primary button is the colour itself by night: the algorithm would darken it below what its text needs.
    components: {
      Form: { labelColor: tokens.ink2, verticalLabelPadding: '0 0 2px', itemMarginBottom: 0 },
      Button: isDark
        ? {
            colorPrimary: tokens.jade,
            colorPrimaryHover: tokens.jade5,
            primaryColor: tokens.paper,
            primaryShadow: 'none',
          }
        : { primaryShadow: 'none' },
    },
  };
}
