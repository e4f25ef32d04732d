/** Periods by their labels, as the server writes them: 2031-04-07, 2031-W15, 2031-04, 2031-Q2, 2031. */

/** The first day of a period, and the first of the next one; null where the label is none. */
export function daysOf(label: string): [Date, Date] | null {
  const day = /^(\d{4})-(\d{2})-(\d{2})$/.exec(label);
  if (day) return stretch(utc(+day[1]!, +day[2]! - 1, +day[3]!), 1);
  const week = /^(\d{4})-W(\d{2})$/.exec(label);
  if (week) {
    // the week with the fourth of January is the first
    const fourth = utc(+week[1]!, 0, 4);
    const monday = fourth.getTime() - ((fourth.getUTCDay() + 6) % 7) * DAY + (+week[2]! - 1) * 7 * DAY;
    return stretch(new Date(monday), 7);
  }
  const quarter = /^(\d{4})-Q([1-4])$/.exec(label);
  if (quarter) {
    const month = (+quarter[2]! - 1) * 3;
    return [utc(+quarter[1]!, month, 1), utc(+quarter[1]!, month + 3, 1)];
  }
  const month = /^(\d{4})-(\d{2})$/.exec(label);
  if (month) return [utc(+month[1]!, +month[2]! - 1, 1), utc(+month[1]!, +month[2]!, 1)];
  if (/^\d{4}$/.test(label)) return [utc(+label, 0, 1), utc(+label + 1, 0, 1)];
  return null;
}

/** Where a day falls among periods: the place of one, with the part of it that is over; null outside of all. */
export function placeOf(day: string, labels: readonly string[]): number | null {
  const at = new Date(`${day}T00:00:00Z`).getTime();
  for (const [place, label] of labels.entries()) {
    const days = daysOf(label);
    if (days && at >= days[0].getTime() && at < days[1].getTime())
      return place + (at - days[0].getTime()) / (days[1].getTime() - days[0].getTime()) - 0.5;
  }
  return null;
}

const DAY = 86_400_000;

function utc(year: number, month: number, day: number): Date {
  return new Date(Date.UTC(year, month, day));
}

function stretch(first: Date, days: number): [Date, Date] {
  return [first, new Date(first.getTime() + days * DAY)];
}

const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];
const BETWEEN = " · ";

/**
 * A group as people read it: a period as they write it, any other one as it is. What crosses two fields is read part by
 * part. The server's own labels stay the keys.
 */
export function groupText(label: string): string {
  return label.split(BETWEEN).map(periodText).join(BETWEEN);
}

function periodText(label: string): string {
  const days = /^\d{4}-/.test(label) ? daysOf(label) : null;
  if (!days) return label;
  const first = days[0];
  const quarter = /^(\d{4})-(Q[1-4])$/.exec(label);
  if (quarter) return `${quarter[2]} ${quarter[1]}`;
  const month = `${MONTHS[first.getUTCMonth()]} ${first.getUTCFullYear()}`;
  if (/^\d{4}-\d{2}$/.test(label)) return month;
  return label.includes("W") ? `week of ${first.getUTCDate()} ${month}` : `${first.getUTCDate()} ${month}`;
}
