import type { Page } from 'puppeteer-core';

/** Who looks at what is measured in the browser. */
export const person = { name: 'bench', password: 'ostermere-lights' };

export async function signedIn(address: string, page: Page): Promise<void> {
  await page.goto(`${address}/login`);
  await page.evaluate(
    async (who) =>
      fetch('/api/v1/session', {
        method: 'POST',
        body: JSON.stringify(who),
        headers: { 'content-type': 'application/json' },
      }),
    person,
  );
}
