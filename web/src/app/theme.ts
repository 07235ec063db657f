import { theme, type ThemeConfig } from 'antd';

/** The whole palette. Jade says ours, done, go; clay says conflict; nothing else has a colour. */
const tokens = {
  paper: '#f6f4ed',
  sheet: '#fdfcf8',
  ink: '#1b2a27',
  ink2: '#4b5b56',
  ink3: '#66736e',
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
};

const sans = '"Source Sans 3 Variable", "Source Sans 3", system-ui, sans-serif';
const serif = '"Source Serif 4 Variable", "Source Serif 4", Georgia, serif';

/** Makes the tokens known to the style sheet. */
export function applyTokens() {
  const style = document.documentElement.style;
  for (const [name, value] of Object.entries(tokens)) style.setProperty(`--${name}`, value);
  style.setProperty('--sans', sans);
  style.setProperty('--serif', serif);
}

/** The same tokens for Ant Design. Its compact form takes 2 px off the font size. */
export const antTheme: ThemeConfig = {
  algorithm: theme.compactAlgorithm,
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
    colorBorder: tokens.rule,
    colorBorderSecondary: tokens.rule2,
    borderRadius: 3,
    fontFamily: sans,
    fontSize: 16,
    // Nothing moves: a button whose loading icon is on its way out is not yet the button again.
    motion: false,
  },
};
