/**
 * What runs inside of a page that is content: it draws the page as a picture whenever it has changed and sends that to the bench,
 * measures its letters, and does what the pointer does. It shares nothing with the bench but messages. `runPage` is sent as its
 * own source text, so it uses nothing from outside of itself.
 */

/**
 * Nothing reaches the network, nothing is sent off, nothing but the bench frames it. Scripts and styles are the page's own.
 * @param benchNames the addresses of the bench.
 */
export const pagePolicy = (benchNames: string): string =>
  [
    'sandbox allow-scripts',
    "default-src 'none'",
    "script-src 'unsafe-inline' 'unsafe-eval' data:",
    "style-src 'unsafe-inline' data:",
    'img-src data: blob:',
    'font-src data:',
    'media-src data: blob:',
    "form-action 'none'",
    "base-uri 'none'",
    `frame-ancestors ${benchNames}`,
  ].join('; ');

/** The page with what runs in it, first of all. */
export function withRunner(html: string): string {
  const script = `<script>(${runPage.toString()})();</script>`;
  const head = /<head(?:\s[^>]*)?>/i.exec(html);
  if (head) return html.slice(0, head.index + head[0].length) + script + html.slice(head.index + head[0].length);
  const root = /<html(?:\s[^>]*)?>/i.exec(html);
  return root ? html.slice(0, root.index + root[0].length) + script + html.slice(root.index + root[0].length) : script + html;
}

function runPage(): void {
  const bench = window.parent;
  const script = document.currentScript;
  script?.remove();
  /** At most so many pixels are drawn, and no more often than this. */
  const MOST_PIXELS = 8e6;
  const LEAST_MS = 66;
  const SCALE = 2;
  // No network: what a policy does not forbid is taken away.
  for (const name of ['RTCPeerConnection', 'webkitRTCPeerConnection', 'WebTransport'])
    Object.defineProperty(window, name, { value: undefined, configurable: false, writable: false });
  // The keyboard is the bench's.
  for (const kind of [HTMLElement, SVGElement]) kind.prototype.focus = () => {};
  const post = bench.postMessage.bind(bench);
  const say = (message: object, transfer: Transferable[] = []) => post({ foreshore: message }, '*', transfer);

  // Drawing
  let _due = 0;
  let drawing = false;
  let again = false;
  let tookMs = 0;
  const changed = (): void => {
    if (drawing) again = true;
    else _due ||= window.setTimeout(draw, Math.max(LEAST_MS, 3 * tookMs));
  };

  /** What stands in no attribute, put into the copy. */
  function takeState(from: Element, to: Element): void {
    if (from instanceof HTMLInputElement) {
      to.setAttribute('value', from.value);
      if (from.checked) to.setAttribute('checked', '');
      else to.removeAttribute('checked');
    } else if (from instanceof HTMLTextAreaElement) to.textContent = from.value;
    else if (from instanceof HTMLOptionElement) {
      if (from.selected) to.setAttribute('selected', '');
      else to.removeAttribute('selected');
    } else if (from instanceof HTMLCanvasElement || from instanceof HTMLVideoElement) {
      const image = document.createElement('img');
      for (const { name, value } of from.attributes) if (name !== 'src') image.setAttribute(name, value);
      image.style.width = `${from.clientWidth}px`;
      image.style.height = `${from.clientHeight}px`;
      try {
        image.src = from instanceof HTMLCanvasElement ? from.toDataURL() : stillOf(from);
        to.replaceWith(image);
      } catch {
        // What it shows may not be read.
      }
    }
    if ((from.scrollTop || from.scrollLeft) && from !== document.documentElement && from !== document.body)
      for (const child of to.children) {
        if (!(child instanceof HTMLElement)) continue;
        child.style.position = 'relative';
        child.style.top = `${-from.scrollTop}px`;
        child.style.left = `${-from.scrollLeft}px`;
      }
  }
  function stillOf(video: HTMLVideoElement): string {
    const canvas = document.createElement('canvas');
    canvas.width = video.videoWidth;
    canvas.height = video.videoHeight;
    canvas.getContext('2d')?.drawImage(video, 0, 0);
    return canvas.toDataURL();
  }

  /** The page as it looks now, as an SVG picture of the window's size. */
  function asSvg(): string {
    const root = document.documentElement;
    const copy = root.cloneNode(true) as HTMLElement;
    const [own, copied] = [
      [root, ...root.querySelectorAll('*')],
      [copy, ...copy.querySelectorAll('*')],
    ];
    // Motions stand as they are.
    for (const animation of document.getAnimations()) {
      const effect = animation.effect;
      if (!(effect instanceof KeyframeEffect) || !effect.target || effect.pseudoElement) continue;
      const to = copied[own.indexOf(effect.target)];
      if (!(to instanceof HTMLElement || to instanceof SVGElement)) continue;
      const now = getComputedStyle(effect.target);
      for (const frame of effect.getKeyframes())
        for (const property of Object.keys(frame)) {
          const css = property.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`);
          if (now.getPropertyValue(css)) to.style.setProperty(css, now.getPropertyValue(css), 'important');
        }
      to.style.setProperty('animation', 'none', 'important');
      to.style.setProperty('transition', 'none', 'important');
    }
    for (let k = 0; k < own.length; k++) takeState(own[k] as Element, copied[k] as Element);
    for (const one of copy.querySelectorAll('script, noscript, link, meta, base')) one.remove();
    // There, the picture is the root.
    for (const style of copy.querySelectorAll('style')) style.textContent = (style.textContent ?? '').replace(/:root\b/g, 'html');
    const [width, height] = [innerWidth, innerHeight];
    const styles = getComputedStyle(root);
    const ground = /rgba?\(0, 0, 0(?:, 0)?\)|transparent/.test(styles.backgroundColor) && styles.backgroundImage === 'none';
    const body = document.body ? getComputedStyle(document.body) : styles;
    const paint = ground ? body : styles;
    copy.style.cssText += `;display:block;position:relative;width:${width}px;min-height:${height}px;margin-top:${-scrollY}px;margin-left:${-scrollX}px;background:${paint.background}`;
    // biome-ignore lint/suspicious/noControlCharactersInRegex: XML knows none of them
    const xml = new XMLSerializer().serializeToString(copy).replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f]/g, '');
    return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" style="font-size:${styles.fontSize}"><foreignObject width="100%" height="100%">${xml}</foreignObject></svg>`;
  }

  async function draw(): Promise<void> {
    _due = 0;
    drawing = true;
    const began = performance.now();
    try {
      const image = new Image();
      image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(asSvg())}`;
      await image.decode();
      const scale = Math.min(SCALE, Math.sqrt(MOST_PIXELS / (innerWidth * innerHeight)));
      const canvas = new OffscreenCanvas(Math.max(1, Math.round(innerWidth * scale)), Math.max(1, Math.round(innerHeight * scale)));
      canvas.getContext('2d')?.drawImage(image, 0, 0, canvas.width, canvas.height);
      const bitmap = canvas.transferToImageBitmap();
      say({ kind: 'picture', bitmap, capPx: leastCapPx() }, [bitmap]);
    } catch (error) {
      say({ kind: 'failed', because: String((error as Error).message ?? error).slice(0, 300) });
    }
    tookMs = performance.now() - began;
    drawing = false;
    if (again || document.getAnimations().some(({ playState }) => playState === 'running')) {
      again = false;
      changed();
    }
  }

  // Measuring
  const caps = new Map<string, number>();
  const pen = document.createElement('canvas').getContext('2d');
  function capOf({ fontStyle, fontWeight, fontSize, fontFamily }: CSSStyleDeclaration): number {
    const font = `${fontStyle} ${fontWeight} ${fontSize} ${fontFamily}`;
    let cap = caps.get(font);
    if (cap === undefined && pen) {
      pen.font = font;
      cap = pen.measureText('H').actualBoundingBoxAscent;
      if (document.fonts.status === 'loaded') caps.set(font, cap);
    }
    return cap ?? Number.NaN;
  }
  /** The least height of capitals of what is in the window, pixels; null where something in it cannot be measured, or there is no text. */
  function leastCapPx(): number | null | 'none' {
    let least = Number.POSITIVE_INFINITY;
    const take = (element: Element): void => {
      const style = getComputedStyle(element);
      if (style.visibility !== 'visible' || Number(style.opacity) === 0) return;
      const box = element.getBoundingClientRect();
      if (box.width === 0 || box.height === 0 || box.bottom <= 0 || box.right <= 0 || box.top >= innerHeight || box.left >= innerWidth)
        return;
      const scale = element instanceof HTMLElement && element.offsetHeight > 0 ? box.height / element.offsetHeight : drawnScale(element);
      least = Math.min(least, capOf(style) * scale);
    };
    const texts = document.createTreeWalker(document.body ?? document.documentElement, NodeFilter.SHOW_TEXT);
    for (let node = texts.nextNode(); node; node = texts.nextNode()) {
      const parent = node.parentElement;
      if (parent && node.nodeValue?.trim() && !/^(?:SCRIPT|STYLE|NOSCRIPT|TITLE|OPTION)$/.test(parent.tagName)) take(parent);
    }
    for (const field of document.querySelectorAll<HTMLInputElement>('input, textarea, select'))
      if (
        field instanceof HTMLSelectElement ||
        (/^(?:text|search|number|email|button|submit|reset|)$/.test(field.type) && (field.value || field.placeholder))
      )
        take(field);
    const unknown = [...document.querySelectorAll('canvas, video')].some((one) => {
      const { width, height, bottom, top } = one.getBoundingClientRect();
      return width > 0 && height > 0 && bottom > 0 && top < innerHeight;
    });
    if (unknown || Number.isNaN(least)) return null;
    return Number.isFinite(least) ? least : 'none';
  }
  function drawnScale(element: Element): number {
    const matrix = element instanceof SVGGraphicsElement ? element.getScreenCTM() : null;
    return matrix ? Math.sqrt(Math.abs(matrix.a * matrix.d - matrix.b * matrix.c)) : 1;
  }

  // The pointer
  let pointed: Element | null = null;
  let held: Element | null = null;
  const mark = (name: string, from: Element | null, to: Element | null): void => {
    if (from === to) return;
    from?.removeAttribute(name);
    to?.setAttribute(name, '');
  };
  const fire = (to: Element, type: string, x: number, y: number, buttons: number): boolean => {
    const init = {
      bubbles: true,
      cancelable: true,
      composed: true,
      view: window,
      clientX: x,
      clientY: y,
      buttons,
      pointerId: 1,
      isPrimary: true,
    };
    return to.dispatchEvent(type.startsWith('pointer') ? new PointerEvent(type, init) : new MouseEvent(type, init));
  };
  function slide(range: HTMLInputElement, x: number): void {
    const { left, width } = range.getBoundingClientRect();
    const [least, most] = [Number(range.min || 0), Number(range.max || 100)];
    const before = range.value;
    range.value = String(least + (most - least) * Math.max(0, Math.min(1, (x - left) / width)));
    if (range.value !== before) range.dispatchEvent(new Event('input', { bubbles: true }));
  }
  let last = '';
  function point(kind: string, x: number, y: number): void {
    // Whoever aims is told of every frame; a page that hears nothing new draws nothing new.
    const now = `${kind} ${x} ${y}`;
    if (kind === 'move' && now === last) return;
    last = now;
    const under = kind === 'leave' ? null : document.elementFromPoint(x, y);
    mark('data-pointed', pointed, under);
    pointed = under;
    const to = held ?? under;
    if (!to) return;
    const buttons = kind === 'down' || held ? 1 : 0;
    if (kind === 'move') for (const type of ['pointermove', 'mousemove']) fire(to, type, x, y, buttons);
    if (kind === 'down') {
      held = under;
      mark('data-pressed', null, held);
      for (const type of ['pointerdown', 'mousedown']) fire(to, type, x, y, 1);
    }
    if (held instanceof HTMLInputElement && held.type === 'range' && !held.disabled && kind !== 'up' && kind !== 'leave') slide(held, x);
    if (kind === 'up' && held) {
      const was = held;
      held = null;
      mark('data-pressed', was, null);
      for (const type of ['pointerup', 'mouseup']) fire(was, type, x, y, 0);
      if (was instanceof HTMLInputElement && was.type === 'range') was.dispatchEvent(new Event('change', { bubbles: true }));
      else if (under && (was === under || was.contains(under))) fire(under, 'click', x, y, 0);
    }
    if (kind !== 'move') changed();
  }
  function scroll(x: number, y: number, byPx: number): void {
    for (let at = document.elementFromPoint(x, y); at; at = at.parentElement) {
      const before = at.scrollTop;
      at.scrollTop += byPx;
      if (at.scrollTop !== before) break;
    }
    changed();
  }

  window.addEventListener('message', (event) => {
    const told = (event.data as { foreshore?: { kind: string; x: number; y: number; by: number } } | null)?.foreshore;
    if (event.source !== bench || !told) return;
    event.stopImmediatePropagation();
    if (told.kind === 'ping') say({ kind: 'pong' });
    else if (told.kind === 'wheel') scroll(told.x, told.y, told.by);
    else if (told.kind === 'draw') changed();
    else point(told.kind, told.x, told.y);
  });
  // A link would lead the page away from itself.
  window.addEventListener(
    'click',
    (event) => {
      const link = event.composedPath().find((one): one is HTMLAnchorElement => one instanceof HTMLAnchorElement);
      const to = link?.getAttribute('href');
      if (!link || to === null || to === undefined || to.startsWith('#')) return;
      event.preventDefault();
      say({ kind: 'link', to: to.slice(0, 300) });
    },
    true,
  );
  for (const type of ['input', 'change', 'scroll', 'transitionrun', 'animationstart', 'load', 'toggle'])
    window.addEventListener(type, changed, true);
  new MutationObserver(changed).observe(document, { subtree: true, childList: true, attributes: true, characterData: true });
  const ready = (): void => {
    say({ kind: 'ready' });
    changed();
    void document.fonts.ready.then(changed);
  };
  if (document.readyState === 'complete') ready();
  else window.addEventListener('load', ready);
}
