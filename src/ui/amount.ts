/** Amounts with their units, and money. Apart from all other numbers, since few views show any. */
import { minorDigits } from '../core/plan/currency';
import { decimal } from './format';

/** An amount in major units of a currency. */
export const moneyText = (amount: number, currency: string): string => {
  try {
    return new Intl.NumberFormat('en-GB', { style: 'currency', currency }).format(amount);
  } catch {
    return `${decimal(amount)} ${currency}`;
  }
};

/** An amount with its unit; what is in a currency as money. */
export const amountText = (n: number, unit: string): string => {
  const [, of, currency] = /^(?:(minor|major) units of )?([A-Z]{3})$/.exec(unit) ?? [];
  if (currency !== undefined) return moneyText(of === 'minor' ? n / 10 ** minorDigits(currency) : n, currency);
  return unit === '' ? decimal(n) : `${decimal(n)} ${unit}`;
};
