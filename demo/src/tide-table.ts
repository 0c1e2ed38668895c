/** The tide table in the pump house: a page, in three languages, that follows the tide and has it noted. */
import { packPage } from '@foreshore/intake';

const HTML = `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=640, height=448">
<title>Tide table</title>
<style>
  :root { --ink: #15233b; --paper: #f5f0e3; --deep: #12445a; --sand: #e6d5a6 }
  body { margin: 0; box-sizing: border-box; height: 448px; padding: 20px 28px; background: var(--paper); color: var(--ink);
    border: 6px solid var(--deep); font: 30px/1.2 Georgia, serif }
  h1 { margin: 0 0 8px; font-size: 38px; display: flex; justify-content: space-between }
  table { width: 100%; border-collapse: collapse; font-variant-numeric: tabular-nums }
  td, th { padding: 7px 10px; text-align: start; border-bottom: 2px solid #c9bd9c }
  tr[data-next] { background: var(--sand); font-weight: bold }
  button { font: inherit; margin-top: 14px; padding: 6px 26px; border: 3px solid var(--ink); border-radius: 6px; background: var(--sand) }
  button[data-pointed] { background: #1b6e83; color: #fff }
  button[data-pressed] { background: var(--deep); color: #fff }
</style>
</head>
<body>
<h1><span id="title"></span><output id="now"></output></h1>
<table><tbody id="rows"></tbody></table>
<button id="note"></button>
<script>
  const TIDES = [['05:12', 1.84], ['11:25', -0.62], ['17:40', 1.91], ['23:58', -0.71]];
  const WORDS = {
    en: { title: 'Tides today', high: 'High water', low: 'Low water', note: 'Note the tide' },
    de: { title: 'Gezeiten heute', high: 'Hochwasser', low: 'Niedrigwasser', note: 'Tide notieren' },
    ar: { title: 'المد اليوم', high: 'مد', low: 'جزر', note: 'سجّل المد' },
  };
  const show = (id, text) => { document.getElementById(id).textContent = text };
  function tell(language, tide) {
    const words = WORDS[language] ?? WORDS.en;
    document.documentElement.lang = language;
    document.body.dir = language === 'ar' ? 'rtl' : 'ltr';
    const height = new Intl.NumberFormat(language, { minimumFractionDigits: 2, maximumFractionDigits: 2 });
    show('title', words.title);
    show('now', tide === undefined ? '' : height.format(tide) + ' m');
    show('note', words.note);
    document.getElementById('rows').innerHTML = TIDES.map(([time, metres], k) =>
      '<tr' + (k === 1 ? ' data-next' : '') + '><td>' + (metres > 0 ? words.high : words.low) + '</td><td>' + time + '</td><td>' + height.format(metres) + ' m</td></tr>').join('');
  }
  tell('en');
  addEventListener('message', ({ data }) => { if (data.feeds) tell(data.language, data.feeds.tide) });
  document.getElementById('note').onclick = () => parent.postMessage({ action: 'read' }, '*');
</script>
</body>
</html>
`;

/** As it is kept: with all that it needs inside. */
export const tideTable = () => packPage(new TextEncoder().encode(HTML));
