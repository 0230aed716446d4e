import * as yup from 'yup';

/** How long what is only looked back at is kept, in days, and how many copies the program makes of its own accord. */
export interface Retention {
  /** all surveys, before one a week of each scope is left; 0 for all of them for ever */
  surveysDays: number;
  /** every reading, before the last of each hour is left */
  readingsDays: number;
  /** the last reading of each hour, before the last of each day is left */
  hourlyDays: number;
  /** what was done, by whom */
  actsDays: number;
  /** jobs that have ended */
  jobsDays: number;
  /** what collectors delivered, and how it was shared out */
  deliveriesDays: number;
  /** addresses at which no device is known */
  emptyVisitsDays: number;
  /** talk of exporters and agents day by day, before what they heard in a month is put together */
  talkDailyDays: number;
  /** talk of any source */
  talkDays: number;
  /** copies before the structure of the data changed, and before a backup was restored */
  copies: number;
}

export const usualRetention: Retention = {
  surveysDays: 0,
  readingsDays: 30,
  hourlyDays: 365,
  actsDays: 730,
  jobsDays: 90,
  deliveriesDays: 30,
  emptyVisitsDays: 90,
  talkDailyDays: 35,
  talkDays: 400,
  copies: 3,
};

const between = (low: number, high: number) => {
  const words = `must be a whole number from ${low} to ${high}`;
  return yup.number().typeError(words).integer(words).min(low, words).max(high, words).required();
};

export const retentionSchema = yup
  .object({
    surveysDays: between(0, 3650),
    readingsDays: between(1, 3650),
    hourlyDays: between(1, 3650),
    actsDays: between(90, 3650),
    jobsDays: between(7, 3650),
    deliveriesDays: between(7, 3650),
    emptyVisitsDays: between(7, 3650),
    talkDailyDays: between(2, 3650),
    talkDays: between(35, 3650),
    copies: between(1, 20),
  })
  .noUnknown();
