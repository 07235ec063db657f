const whole = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 0 });
const dates = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'long', year: 'numeric' });

/** A count, "1,234"; an en dash where it is unknown. */
export const number = (value: number | null | undefined) =>
  value === null || value === undefined ? '–' : whole.format(value);

/** A number with fixed decimals; an en dash where it is unknown. */
export const decimal = (value: number | null | undefined, digits: number) =>
  value === null || value === undefined ? '–' : value.toFixed(digits);

/** A share of one, "31 %". */
export const percent = (share: number) => `${Math.round(share * 100)} %`;

/** A day, "12 November 2026". */
export const day = (iso: string | null | undefined) => (iso ? dates.format(new Date(iso)) : '–');

/** "1 page", "2 pages". */
export const counted = (count: number, noun: string) => `${number(count)} ${noun}${count === 1 ? '' : 's'}`;

/** A URL of the own site by its path alone, others without the scheme. */
export function shortUrl(url: string, host: string | undefined) {
  const bare = url.replace(/^https?:\/\//, '').replace(/^www\./, '');
  return host && bare.startsWith(host) ? bare.slice(host.length) || '/' : bare;
}

/** A word or a phrase at the beginning of a heading. */
export const sentenceCase = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
