import * as yup from 'yup';

/** A text of one line, without blanks at its ends; what is wrong is told in words. */
export const line = (what: string): yup.StringSchema => yup.string().trim(`${what} has blanks at its beginning or end`);
