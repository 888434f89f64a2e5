/** Walking by keyboard alone. */
import { expect, type Locator, type Page } from '@playwright/test';

const MAX_TABS = 140;

/** Presses Tab until the element has the focus. It is looked for each time: lists take their elements again for other rows. */
export const tabTo = async (page: Page, target: Locator): Promise<void> => {
  await target.waitFor();
  const passed: string[] = [];
  for (let i = 0; i < MAX_TABS; i++) {
    if (await target.evaluate((el) => el === document.activeElement)) return;
    passed.push(
      await page.evaluate(() => {
        const el = document.activeElement;
        return `${el?.tagName.toLowerCase()} ${(el?.getAttribute('aria-label') ?? el?.textContent ?? '').trim().slice(0, 24)}`;
      }),
    );
    await page.keyboard.press('Tab');
  }
  throw new Error(`${String(target)} is not reached with ${MAX_TABS} tabs; passed: ${passed.slice(-40).join(', ')}`);
};
/** Whoever works without a mouse goes on from where the focus is: should it fall to the body, they begin at the top again. */
export const hasFocus = (page: Page, after: string): Promise<void> =>
  expect
    .poll(() => page.evaluate(() => document.activeElement !== null && document.activeElement !== document.body), {
      message: `the focus is somewhere after ${after}`,
    })
    .toBe(true);
/** Presses a key, and sees that the focus is somewhere. */
export const key = async (page: Page, name: string): Promise<void> => {
  await page.keyboard.press(name);
  await hasFocus(page, name);
};
export const press = async (page: Page, target: Locator): Promise<void> => {
  await tabTo(page, target);
  const what = await target.evaluate((el) => (el.getAttribute('aria-label') ?? el.textContent).trim().slice(0, 60));
  await page.keyboard.press('Enter');
  await hasFocus(page, `Enter on “${what}”`);
};
export const pick = async (page: Page, button: Locator, text: string): Promise<void> => {
  await press(page, button);
  // Nobody types before the list is there.
  await expect(page.locator('[cmdk-input]')).toBeFocused();
  await page.keyboard.type(text);
  await page.keyboard.press('Enter');
  await hasFocus(page, `the choice of “${text}”`);
};

/** Resolves when a view stands: nothing is loading, nothing moves, and what is drawn stays the same over several frames. */
export const stands = async (page: Page): Promise<void> => {
  await expect(page.getByText(/^loading/i)).toHaveCount(0);
  await page.evaluate(async () => {
    const frame = (): Promise<unknown> => new Promise((next) => requestAnimationFrame(next));
    let before = '';
    // What changes all the time, such as an age in seconds, is drawn all the same.
    for (let same = 0, frames = 0; same < 3 && frames < 60; frames++) {
      const moving = document
        .getAnimations()
        .filter((a) => a.playState === 'running' && a.effect?.getComputedTiming().endTime !== Infinity);
      await Promise.all(moving.map((a) => a.finished.catch(() => undefined)));
      await frame();
      const now = document.body.innerHTML;
      same = now === before ? same + 1 : 0;
      before = now;
    }
  });
};

const STATIONS = /^\/(?:questions|plan|identity|hand-off|arrivals|clearance)(?=[/?]|$)/;
/** The station that an address is at, whatever is chosen there. */
export const stationOf = (at: string): string | undefined => STATIONS.exec(at)?.[0];

/** Opens an address: from another one of the same station as somebody does who follows a link or goes back, else anew. */
export const open = async (page: Page, at: string, before: string, base = ''): Promise<void> => {
  if (stationOf(at) === undefined || stationOf(at) !== stationOf(before)) {
    await page.goto(base + at);
    return;
  }
  await page.evaluate((to) => {
    history.pushState(null, '', to);
    dispatchEvent(new PopStateEvent('popstate'));
  }, at);
};
