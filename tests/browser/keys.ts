/** Walking by keyboard alone. */
import type { Locator, Page } from '@playwright/test';

const MOST_TABS = 140;

/** Presses Tab until the element has the focus. */
export const tabTo = async (page: Page, target: Locator): Promise<void> => {
  await target.waitFor();
  for (let i = 0; i < MOST_TABS; i++) {
    if (await target.evaluate((el) => el === document.activeElement)) return;
    await page.keyboard.press('Tab');
  }
  throw new Error(`not reached with ${MOST_TABS} tabs`);
};
export const press = async (page: Page, target: Locator): Promise<void> => {
  await tabTo(page, target);
  await page.keyboard.press('Enter');
};
export const pick = async (page: Page, button: Locator, text: string): Promise<void> => {
  await press(page, button);
  await page.keyboard.type(text);
  await page.keyboard.press('Enter');
};
