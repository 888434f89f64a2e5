/** Digits behind the point of a currency; 2 for what is none. Source: ISO 4217, as the platform's `Intl.NumberFormat` has it. */
export const minorDigits = (currency: string): number => {
  try {
    return new Intl.NumberFormat('en', { style: 'currency', currency }).resolvedOptions().maximumFractionDigits ?? 2;
  } catch {
    return 2;
  }
};
