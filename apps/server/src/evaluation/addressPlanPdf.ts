import { createRequire } from 'node:module';
import PDFDocument from 'pdfkit';
import type { AddressPlan, PrintedCluster, PrintedNetwork, PrintedPool } from '@wide-lattice/core/exchange';

const require = createRequire(import.meta.url);
// Of the font's files only the older format can be cut down to the letters used.
const fontFile = (name: string, weight: number) =>
  require.resolve(
    `@fontsource/atkinson-hyperlegible-${name}/files/atkinson-hyperlegible-${name}-latin-${weight}-normal.woff`,
  );

const PAGE = { size: 'A4', margin: 42 } as const;
const INK = '#1f2a30';
const QUIET = '#56616a';
const RULE = '#dcd5c5';
// The purposes' colours of the light theme.
const colours = {
  node: '#1d6a72',
  pod: '#7a5a10',
  service: '#7c3a75',
  entry: '#9a3f28',
  elsewhere: '#56616a',
} as const;
const letters = { node: 'N', pod: 'P', service: 'S', entry: 'E', elsewhere: 'U' } as const;

/** Sets the address plan as a PDF with the application's own fonts, one section after the other. */
export async function addressPlanPdf(plan: AddressPlan): Promise<Uint8Array> {
  const document = new PDFDocument({ ...PAGE, bufferPages: true, info: { Title: `Address plan: ${plan.title}` } });
  const chunks: Buffer[] = [];
  document.on('data', (chunk: Buffer) => chunks.push(chunk));
  const done = new Promise<void>((resolve, reject) => {
    document.on('end', resolve);
    document.on('error', reject);
  });
  document.registerFont('text', fontFile('next', 400));
  document.registerFont('strong', fontFile('next', 700));
  document.registerFont('mono', fontFile('mono', 400));
  const page = new Page(document);
  page.title(plan.title, plan.note);
  for (const { label, value } of plan.summary) page.fact(label, value);
  page.section('Pools');
  for (const pool of plan.pools) printPool(page, pool);
  for (const site of plan.sites) {
    page.section(`Site ${site.name}, ${site.profile} rules`);
    for (const cluster of site.clusters) printCluster(page, cluster);
  }
  page.section('Networks');
  for (const network of plan.networks) printNetwork(page, network);
  page.section('In use elsewhere');
  page.table(
    [140, 220, 140],
    ['Range', 'Owner', 'Network'],
    plan.inUse.map((r) => [r.prefix, r.owner, r.network]),
  );
  page.section(`Findings: ${plan.findings.length}`);
  for (const { severity, title, detail } of plan.findings) page.paragraph(`${severity}: ${title}`, detail);
  page.numberAll(plan.title);
  document.end();
  await done;
  return Buffer.concat(chunks);
}

function printPool(page: Page, pool: PrintedPool): void {
  page.heading(`${pool.name}  ${pool.prefix}`);
  page.bar(pool.bar);
  page.line(
    `For ${pool.purposes}; site ${pool.site}. ${pool.size} addresses, ${pool.takenPercent} % taken; largest free block ${pool.largestFree}; ${pool.routes} routes to advertise.`,
  );
}

function printCluster(page: Page, cluster: PrintedCluster): void {
  page.heading(`${cluster.name}${cluster.isBuilt ? ' (built)' : ''}`);
  page.line(`Network ${cluster.network}, ${cluster.podMode} pods, nodes ${cluster.nodes}.`);
  page.table(
    [90, 40, 150, 80, 50, 90],
    ['Purpose', 'Family', 'Range', 'Addresses', 'Needs', 'Verdict'],
    cluster.ranges.map((r) => [
      `${letters[r.purpose]} ${r.purpose} ${r.zone}`,
      r.family,
      r.prefix,
      r.addresses,
      r.needed,
      r.verdict,
    ]),
  );
  for (const { name, first, count } of cluster.reservations) page.line(`${name}: ${count} addresses from ${first}`);
}

function printNetwork(page: Page, network: PrintedNetwork): void {
  page.heading(network.name);
  if (network.note !== '') page.line(network.note);
  if (network.blocks.length > 0) page.line(`Address blocks: ${network.blocks.join(', ')}`);
  for (const link of network.links) page.line(link);
  if (network.subnets.length > 0)
    page.table(
      [120, 110, 100, 90, 80],
      ['Subnet', 'Range', 'Use', 'Place', 'Internet egress'],
      network.subnets.map((s) => [
        s.name,
        s.prefix,
        s.use,
        s.place,
        s.routeTable === '' ? s.internetEgress : `${s.internetEgress}, ${s.routeTable}`,
      ]),
    );
}

/** Writes down the page and on to the next one where it is full. */
class Page {
  constructor(private readonly document: PDFKit.PDFDocument) {}

  private get left(): number {
    return this.document.page.margins.left;
  }

  private get width(): number {
    return this.document.page.width - this.left - this.document.page.margins.right;
  }

  title(text: string, note: string): void {
    this.document.font('strong').fillColor(INK).fontSize(20).text(`Address plan: ${text}`);
    if (note !== '') this.document.font('text').fontSize(10).fillColor(QUIET).text(note);
    this.document.moveDown(0.5);
  }

  fact(label: string, value: string): void {
    const { document } = this;
    document.font('text').fontSize(9).fillColor(QUIET).text(`${label}: `, this.left, document.y, { continued: true });
    document.fillColor(INK).text(value);
  }

  section(text: string): void {
    this.room(70);
    const { document } = this;
    document.moveDown(0.9).font('strong').fontSize(13).fillColor(INK).text(text, this.left, document.y);
    this.rule();
  }

  heading(text: string): void {
    this.room(60);
    const { document } = this;
    document
      .moveDown(0.5)
      .font('strong')
      .fontSize(10)
      .fillColor(INK)
      .text(text, this.left, document.y, { underline: false });
  }

  line(text: string): void {
    const { document } = this;
    document.font('text').fontSize(8.5).fillColor(QUIET).text(text, this.left, document.y, { width: this.width });
  }

  paragraph(title: string, detail: string): void {
    this.room(40);
    const { document } = this;
    document
      .moveDown(0.4)
      .font('text')
      .fontSize(9)
      .fillColor(INK)
      .text(title, this.left, document.y, { width: this.width });
    this.line(detail);
  }

  /** A pool to scale: each range in its purpose's colour, what is free left white. */
  bar(parts: PrintedPool['bar']): void {
    const { document, left, width } = this;
    const top = document.y + 3;
    for (const { start, width: share, what } of parts)
      document.rect(left + start * width, top, Math.max(0.6, share * width), 9).fill(colours[what]);
    document.lineWidth(0.5).rect(left, top, width, 9).stroke(INK);
    document.y = top + 13;
  }

  table(widths: readonly number[], head: readonly string[], rows: readonly (readonly string[])[]): void {
    this.cells(widths, head, QUIET);
    for (const row of rows) this.cells(widths, row, INK);
    this.document.moveDown(0.2);
  }

  numberAll(title: string): void {
    const { document } = this;
    const { start, count } = document.bufferedPageRange();
    for (let i = start; i < start + count; i++) {
      document.switchToPage(i);
      // Below the margin; without this pdfkit would start a page of its own for it.
      document.page.margins.bottom = 0;
      document
        .font('text')
        .fontSize(8)
        .fillColor(QUIET)
        .text(`${title}, page ${i - start + 1} of ${count}`, this.left, document.page.height - 30, {
          lineBreak: false,
        });
    }
  }

  private cells(widths: readonly number[], texts: readonly string[], colour: string): void {
    this.room(14);
    const { document } = this;
    const top = document.y;
    let x = this.left;
    texts.forEach((text, i) => {
      const isAddress = /^[0-9a-f.:]+\/\d+$/.test(text);
      document
        .font(isAddress ? 'mono' : 'text')
        .fontSize(8)
        .fillColor(colour)
        .text(text, x, top, { width: (widths[i] ?? 60) - 4, height: 10, ellipsis: true, lineBreak: false });
      x += widths[i] ?? 60;
    });
    document.y = top + 11.5;
    document.x = this.left;
  }

  private rule(): void {
    const { document, left, width } = this;
    document
      .lineWidth(0.6)
      .moveTo(left, document.y)
      .lineTo(left + width, document.y)
      .stroke(RULE);
    document.moveDown(0.3);
  }

  private room(height: number): void {
    const { document } = this;
    if (document.y + height > document.page.height - document.page.margins.bottom) document.addPage();
  }
}
