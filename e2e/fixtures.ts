import AxeBuilder from '@axe-core/playwright';
import { expect, test as base } from '@playwright/test';
import type { APIRequestContext, Page } from '@playwright/test';

interface Fixtures {
  /** Id of a plan of the test's own: the demo, taken from its plan file. */
  readonly planId: string;
  /** Opens a view of that plan. */
  readonly open: (view: string) => Promise<void>;
}

interface WorkerFixtures {
  /** Id of a copy of the demo that nobody changes: for tests that only look. */
  readonly lookedAt: string;
}

/** Plan id, opened views, and a page whose console errors fail the test. */
export const test = base.extend<Fixtures, WorkerFixtures>({
  lookedAt: [
    async ({ playwright }, use, { project }) => {
      const { baseURL } = project.use;
      const request = await playwright.request.newContext(baseURL === undefined ? {} : { baseURL });
      await use(await copyOfDemo(request));
      await request.dispose();
    },
    { scope: 'worker' },
  ],
  planId: async ({ request }, use) => use(await copyOfDemo(request)),
  page: async ({ page }, use) => {
    const errors = watchConsole(page);
    await use(page);
    expect(errors).toEqual([]);
  },
  open: async ({ page, planId }, use) => {
    await use(async (view) => {
      await page.goto(`/plans/${planId}/${view}`);
      await expect(page.getByRole('navigation', { name: 'Course of the work' })).toBeVisible();
    });
  },
});

/** Collects console errors of a page. */
export function watchConsole(page: Page): string[] {
  const errors: string[] = [];
  page.on('pageerror', (error) => errors.push(error.message));
  page.on('console', (message) => {
    // A refused change is an answer the interface shows; the browser logs its status all the same.
    if (message.type() === 'error' && !/status of (409|422)/.test(message.text())) errors.push(message.text());
  });
  return errors;
}

/** Found once in each worker. */
let demoId: Promise<string> | undefined;

async function copyOfDemo(request: APIRequestContext): Promise<string> {
  demoId ??= idOfDemo(request);
  const answer = await request.post(`/api/plans/${await demoId}/duplicate`, {
    data: { name: `Copy ${Date.now()} ${Math.random()}` },
  });
  return ((await answer.json()) as { id: string }).id;
}

/** Goes to a view of the open plan as a link in the page does, without loading the page anew. */
export async function visit(page: Page, address: string): Promise<void> {
  await page.evaluate((to) => {
    history.pushState({}, '', to);
    dispatchEvent(new PopStateEvent('popstate', { state: {} }));
  }, address);
  await page.waitForURL((url) => `${url.pathname}${url.search}`.startsWith(address.split('?')[0] ?? ''));
}

/** The list of plans comes in pages, newest change first, and every test adds a plan: the demo may be on a later one. */
async function idOfDemo(request: APIRequestContext): Promise<string> {
  for (let offset = 0; ; offset += 100) {
    const page = (await (await request.get(`/api/plans?offset=${offset}`)).json()) as { id: string; name: string }[];
    const demo = page.find(({ name }) => name === 'Skerry Line');
    if (demo !== undefined) return demo.id;
    if (page.length === 0) throw new Error('The demo plan is not there.');
  }
}

/** The view has no accessibility violation that axe knows; of certain rules when they are named, in one part when that is. */
export async function expectAccessible(
  page: Page,
  { rules, part }: { rules?: string[]; part?: string } = {},
): Promise<void> {
  const all = new AxeBuilder({ page });
  // There are no frames, for which alone the slower mode is; describing what is right takes most of the rest.
  const { violations } = await (part === undefined ? all : all.include(part))
    .setLegacyMode()
    .options({
      resultTypes: ['violations'],
      ...(rules === undefined ? {} : { runOnly: { type: 'rule' as const, values: rules } }),
    })
    .analyze();
  expect(violations.map(({ id, nodes }) => `${id}: ${nodes.map((node) => node.html).join(' | ')}`)).toEqual([]);
}

export { expect };
