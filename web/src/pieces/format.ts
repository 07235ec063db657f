const whole = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 0 });
const moments = new Intl.DateTimeFormat('en-GB', {
  day: 'numeric',
  month: 'short',
  year: 'numeric',
  hour: '2-digit',
  minute: '2-digit',
});
const shortDays = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' });
const dates = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'long', year: 'numeric' });

/** A count, "1,234"; an en dash where it is unknown. */
export const number = (value: number | null | undefined) =>
  value === null || value === undefined ? '–' : whole.format(value);

/** A number with fixed decimals, "2,037.5"; an en dash where it is unknown. */
export const decimal = (value: number | null | undefined, digits: number) =>
  value === null || value === undefined
    ? '–'
    : value.toLocaleString('en-GB', { minimumFractionDigits: digits, maximumFractionDigits: digits });

/** A share of one, "31 %". */
export const percent = (share: number) => `${Math.round(share * 100)} %`;

/** A day, "12 November 2026". */
export const day = (iso: string | null | undefined) => (iso ? dates.format(new Date(iso)) : '–');

/** A day of this year or the next, "12 Nov". */
export const shortDay = (iso: string) => shortDays.format(new Date(iso));

/** "1 page", "2 pages". */
export const counted = (count: number, noun: string, plural = `${noun}s`) =>
  `${number(count)} ${count === 1 ? noun : plural}`;

/** A URL of the own site by its path alone, others without the scheme. */
export function shortUrl(url: string, host: string | undefined) {
  const bare = url.replace(/^https?:\/\//, '').replace(/^www\./, '');
  // The first of the site's places, without its folder.
  const main = host?.split(/[,/]/)[0];
  return main && bare.startsWith(main) ? bare.slice(main.length) || '/' : bare;
}

/** How long something will still take, in words. */
export const timeLeft = (seconds: number) =>
  seconds < 60 ? `${Math.max(1, seconds)} s left` : `about ${Math.round(seconds / 60)} min left`;

/** A moment, "12 Nov 2026, 14:05", in local time. */
export const moment = (iso: string | null | undefined) => (iso ? moments.format(new Date(iso)) : '–');

/** Money, "2.40 EUR"; small sums with more digits. */
export const money = (value: number, currency: string) =>
  `${value.toFixed(value > 0 && value < 1 ? 3 : 2)} ${currency}`;

/** A word or a phrase at the beginning of a heading. */
export const sentenceCase = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

const countryNames = new Intl.DisplayNames(['en'], { type: 'region' });
const languageNames = new Intl.DisplayNames(['en'], { type: 'language' });

/** A country and a language in words, "United Kingdom · English"; the letters where there is no such. */
export function market(country: string, language: string) {
  const says = (names: Intl.DisplayNames, code: string) => {
    try {
      return names.of(code) ?? code;
    } catch {
      return code;
    }
  };
  return `${says(countryNames, country)} · ${says(languageNames, language)}`;
}

/** The size of a file, "12.3 MB". */
export const size = (bytes: number) =>
  bytes < 1e6
    ? `${Math.max(1, Math.round(bytes / 1e3))} kB`
    : bytes < 1e9
      ? `${decimal(bytes / 1e6, 1)} MB`
      : `${decimal(bytes / 1e9, 2)} GB`;
