/** Phrases that nobody says: the interface, errors and exports do without them. */
export const PHRASES =
  /\b(?:is not there any more|by itself|stands?|mend(?:s|ed|ing)?|so few|so long|come to what they must|said about it|bring (?:it )?in|take (?:it )?away|look at again|none is called that|nothing of|a word on|laid over|brought|of which|any more|all the same|put mine)\b/i;
