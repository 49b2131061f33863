import { saveFile } from '../shared/saveFile';
import type { DiagramView } from '../worker/slices/diagram';

const MARGIN = 12;
const PNG_SCALE = 2;
const MAX_PNG_PIXELS = 8000;

/** Saves the whole diagram as SVG, whatever part is in sight; returns why not, or an empty text. */
export async function saveSvg(svg: SVGSVGElement, view: DiagramView): Promise<string> {
  saveFile(new Blob([standAlone(svg, view)], { type: 'image/svg+xml' }), 'networks.svg');
  return Promise.resolve('');
}

/** Saves the whole diagram as PNG at twice its size, or less where that would be too large for the browser. */
export async function savePng(svg: SVGSVGElement, view: DiagramView): Promise<string> {
  const image = new Image();
  await new Promise((resolve, reject) => {
    image.onload = resolve;
    image.onerror = reject;
    // The page's security policy takes pictures from itself and as data only.
    image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(standAlone(svg, view))}`;
  });
  const size = { width: view.width + 2 * MARGIN, height: view.height + 2 * MARGIN };
  const scale = Math.min(PNG_SCALE, MAX_PNG_PIXELS / Math.max(size.width, size.height));
  const canvas = document.createElement('canvas');
  canvas.width = Math.ceil(size.width * scale);
  canvas.height = Math.ceil(size.height * scale);
  canvas.getContext('2d')?.drawImage(image, 0, 0, canvas.width, canvas.height);
  const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/png'));
  if (blob === null) return 'The browser could not draw the picture. Save it as SVG instead.';
  saveFile(blob, 'networks.png');
  return '';
}

/** The drawing with its colours written out, since a file does not know the page's theme. */
function standAlone(svg: SVGSVGElement, { width, height }: DiagramView): string {
  const copy = svg.cloneNode(true) as SVGSVGElement;
  const style = getComputedStyle(svg);
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg');
  copy.setAttribute('viewBox', `${-MARGIN} ${-MARGIN} ${width + 2 * MARGIN} ${height + 2 * MARGIN}`);
  copy.setAttribute('width', String(width + 2 * MARGIN));
  copy.setAttribute('height', String(height + 2 * MARGIN));
  copy.setAttribute('font-family', 'Atkinson Hyperlegible Next, sans-serif');
  copy.removeAttribute('class');
  copy.querySelector('g')?.removeAttribute('transform');
  const paper = document.createElementNS('http://www.w3.org/2000/svg', 'rect');
  for (const [name, value] of [
    ['x', -MARGIN],
    ['y', -MARGIN],
    ['width', width + 2 * MARGIN],
    ['height', height + 2 * MARGIN],
  ])
    paper.setAttribute(String(name), String(value));
  paper.setAttribute('fill', 'var(--color-base-100)');
  copy.prepend(paper);
  return new XMLSerializer()
    .serializeToString(copy)
    .replace(/var\((--[a-z0-9-]+)\)/g, (_, name: string) => style.getPropertyValue(name).trim());
}
