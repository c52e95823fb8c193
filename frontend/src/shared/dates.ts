/** Days, moments and amounts as the browser's language writes them. */
const LANGUAGE = navigator.language;

/** A day, such as 28 November 2026; from “2026-11-28”. */
export function dayWords(day: string): string {
  return at(`${day}T12:00`, { day: "numeric", month: "long", year: "numeric" });
}

/** A day without its year, such as 28 Nov. */
export const shortDay = (moment: number): string => at(moment, { day: "numeric", month: "short" });

/** A moment in a sentence, such as 28 Nov 2026, 14:05. */
export const momentWords = (moment: string): string => at(moment, { dateStyle: "medium", timeStyle: "short" });

/** A moment in a column, as short as can be. */
export const shortMoment = (moment: string): string => at(moment, { dateStyle: "short", timeStyle: "short" });

/** A time of day, such as 14:05. */
export const timeOfDay = (moment: string): string => at(moment, { timeStyle: "short" });

/** An amount of money, with two decimals. */
export const amountWords = (amount: number): string => amount.toLocaleString(LANGUAGE, { minimumFractionDigits: 2, maximumFractionDigits: 2 });

function at(moment: string | number, how: Intl.DateTimeFormatOptions): string {
  return new Date(moment).toLocaleString(LANGUAGE, how);
}
