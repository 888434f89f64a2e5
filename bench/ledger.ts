/** The ledger with 3,000 rows in the browser: frames over 50 ms while it is scrolled from end to end, against the same scrolling of an
 *  empty box of the same height in the same page; and the time from a letter typed to its finding in the margin.
 */
import assert from 'node:assert/strict';
import { chromium, type Page } from '@playwright/test';
import { launchOptions } from '../playwright.config';
import { largePlanEdits } from '../tests/build/large-plan';
import { goal, size } from './measure';
import { served } from './served';

const SCROLL_STEPS = size(240, 12);
const LONG_FRAME_MS = 50;
const FINDING_LIMIT_MS = 100;

/** Frame times in ms while an element is scrolled from end to end, one step a frame. */
const scrollFrames = (page: Page, selector: string): Promise<number[]> =>
  page.evaluate(
    async ([s, steps]) => {
      const el = document.querySelector<HTMLElement>(s)!;
      const times: number[] = [];
      let last = performance.now();
      for (let i = 0; i <= (steps as number); i++) {
        el.scrollTop = ((el.scrollHeight - el.clientHeight) * i) / (steps as number);
        await new Promise(requestAnimationFrame);
        const now = performance.now();
        times.push(now - last);
        last = now;
      }
      return times;
    },
    [selector, SCROLL_STEPS] as const,
  );

const median = (list: number[]): number => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)]!;

export const benchLedger = (): Promise<boolean> =>
  served(4740, async ({ base }) => {
    const browser = await chromium.launch(launchOptions);
    try {
      const edits = largePlanEdits(500, 3000).filter((e) => e.id !== 'web' || e.kind !== 'source');
      const posted = await fetch(`${base}/api/edits`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ edits, label: 'A large plan' }),
      });
      assert.equal(posted.status, 200, await posted.text());
      const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
      await page.goto(`${base}/plan/property`);
      await page.getByText(/^3,0\d\d of 3,0\d\d$/).waitFor();
      await page.waitForTimeout(3000);
      await page.evaluate(() => {
        const box = document.createElement('div');
        box.id = 'empty-box';
        box.style.cssText = 'position:fixed;left:-2000px;top:0;width:800px;height:600px;overflow:auto';
        box.innerHTML = `<div style="height:${3000 * 31}px"></div>`;
        document.body.append(box);
      });
      const grid = '[role=grid]';
      await scrollFrames(page, grid);
      const [ours, bare]: [number[], number[]] = [[], []];
      for (let round = 0; round < 3; round++) {
        ours.push(...(await scrollFrames(page, grid)));
        bare.push(...(await scrollFrames(page, '#empty-box')));
      }
      const long = (list: number[]): number => list.filter((t) => t > LONG_FRAME_MS).length;
      const rows = await page.locator('[role=grid] [role=row]').count();
      assert(rows > 20 && rows < 120, `${rows} rows are drawn`);
      console.log(
        `frames over ${LONG_FRAME_MS} ms while 3,000 rows scroll: ${long(ours)} of ${ours.length}; an empty box: ${long(bare)} of ${bare.length}; median frame ${median(ours).toFixed(1)} ms against ${median(bare).toFixed(1)} ms`,
      );
      // From a letter typed to its finding: the name loses its case style.
      await page.goto(`${base}/plan/property:p1500`);
      await page.getByRole('gridcell', { selected: true }).waitFor();
      await page.waitForTimeout(3000);
      const times: number[] = [];
      for (let i = 0; i < 7; i++) {
        await page.locator(grid).focus();
        await page.keyboard.press('Home');
        await page.keyboard.press('F2');
        await page.waitForTimeout(400);
        // Listened for before the key is pressed: else the time would be counted from nowhere.
        await page.evaluate(() => {
          const w = window as unknown as { seen: Promise<number> };
          w.seen = new Promise<number>((done) => {
            let began = NaN;
            addEventListener('keydown', () => (began = performance.now()), { once: true, capture: true });
            const observer = new MutationObserver(() => {
              if (!document.querySelector('aside')?.textContent.includes('is not in snake_case')) return;
              observer.disconnect();
              done(performance.now() - began);
            });
            observer.observe(document.body, { subtree: true, childList: true, characterData: true });
          });
        });
        await page.keyboard.press('X');
        const took = await page.evaluate(() => (window as unknown as { seen: Promise<number> }).seen);
        assert(took > 0, 'the key was not heard');
        times.push(took);
        await page.keyboard.press('Escape');
        await page.waitForTimeout(300);
      }
      const middle = median(times);
      const met = goal(
        `from a letter to its finding in the margin, ${FINDING_LIMIT_MS} ms over the median of ${times.length} (${middle.toFixed(0)} ms)`,
        FINDING_LIMIT_MS / middle,
        1,
      );
      return goal('frames over 50 ms: one in a hundred over their share', 0.01 / Math.max(long(ours) / ours.length, 0.0001), 1) && met;
    } finally {
      await browser.close();
    }
  });
