/** Whether a text names a time zone. Source: the IANA database, as the platform's `Intl` has it. */
export const isTimeZone = (text: string): boolean => {
  try {
    new Intl.DateTimeFormat('en', { timeZone: text });
    return text !== '';
  } catch {
    return false;
  }
};
