/** What the texts of Low Water are in its other languages, German and Arabic. */
export type InOthers = { de: string; ar: string };

/** What texts of the glass are in the other languages. */
const GLASS: Record<string, InOthers> = {
  'warmth-name': { de: 'Wärme', ar: 'الدفء' },
  cold: { de: 'Kalt: Schutz suchen', ar: 'برد: ابحث عن مأوى' },
  'lamp-name': { de: 'Lampe', ar: 'المصباح' },
  'tide-value': { de: 'Tide {tide, number, ::.00} m', ar: 'المد {tide, number, ::.00} م' },
  'tide-clock': {
    de: 'Wasser kehrt in {clockS, number, ::precision-integer} s zurück',
    ar: 'يعود الماء بعد {clockS, number, ::precision-integer} ث',
  },
  'samples-count': {
    de: '{samples, plural, =0 {Noch keine Proben} one {# Probe} other {# Proben}}',
    ar: '{samples, plural, =0 {لا عينات} one {عينة واحدة} two {عينتان} few {# عينات} other {# عينة}}',
  },
  'scope-words': {
    de: '{aimOn}, {aimM, number, ::precision-integer} m',
    ar: '{aimOn}، {aimM, number, ::precision-integer} م',
  },
  'pause-button': { de: 'Pause', ar: 'إيقاف' },
  'objective-title': { de: 'Jetzt', ar: 'الآن' },
  'pause-title': { de: 'Pause', ar: 'متوقف' },
  'pause-words': {
    de: 'Auch die Tide wartet: noch {clockS, number, ::precision-integer} s.',
    ar: 'المد ينتظر أيضا: {clockS, number, ::precision-integer} ث',
  },
  'carry-on-text': { de: 'Weiter', ar: 'تابع' },
  'settings-button-text': { de: 'Einstellungen', ar: 'الإعدادات' },
  'give-up-text': { de: 'Aufgeben', ar: 'استسلم' },
  'settings-title': { de: 'Einstellungen', ar: 'الإعدادات' },
  'settings-done-text': { de: 'Fertig', ar: 'تم' },
  'set-wind-name': { de: 'Lautstärke des Windes', ar: 'صوت الريح' },
  'set-gulls-name': { de: 'Lautstärke der Möwen', ar: 'صوت النوارس' },
  'set-hints-name': { de: 'Hinweise', ar: 'التلميحات' },
  'set-cold-name': { de: 'Vor Kälte warnen', ar: 'تحذير من البرد' },
  'set-head-name': { de: 'Ruhiger Kopf beim Gehen', ar: 'ثبات الرأس' },
  'set-log-name': {
    de: 'Tagebuch offen lassen',
    ar: 'إبقاء السجل مفتوحا',
  },
  'log-title': { de: 'Tagebuch', ar: 'السجل' },
  'stranded-title': { de: 'Das Wasser hat dich', ar: 'أدركك الماء' },
  'stranded-words': {
    de: 'Weg zur Lampe: {lampM, number, ::precision-integer} m',
    ar: 'إلى المصباح: {lampM, number, ::precision-integer} م',
  },
  'pump-title': { de: 'Pumpenhaus', ar: 'بيت المضخة' },
  'pump-tide': { de: 'Tide {tide, number, ::.00} m', ar: 'المد {tide, number, ::.00} م' },
  'pump-days': { de: '{oilDays, number, ::precision-integer} T', ar: '{oilDays, number, ::precision-integer} ي' },
  'pump-prime-text': { de: 'Pumpe anfüllen', ar: 'جهّز المضخة' },
  'pump-lamp-name': { de: 'Lampe', ar: 'المصباح' },
  'pump-log-title': { de: 'Tagebuch', ar: 'السجل' },
  'pump-log-1': { de: 'Sumpf bei letzter Ebbe geleert', ar: 'أفرغ البئر عند آخر جزر' },
  'pump-log-2': { de: 'Schwimmerventil gefettet', ar: 'شُحّم صمام العوامة' },
  'pump-log-3': { de: 'Docht gestutzt', ar: 'قُلّم الفتيل' },
  'pump-log-4': { de: 'Dichtungen fest', ar: 'الأختام محكمة' },
  'pump-log-5': { de: 'Wartung bei Springtide', ar: 'الصيانة عند المد العالي' },
  'brass-plate': { de: 'Von Wärtern geschlossen\nseit der großen Flut', ar: 'يغلقها الحراس\nمنذ الفيضان الكبير' },
  'leaf-1-title': { de: 'Wärter', ar: 'الحراس' },
  'leaf-1-words': {
    de: 'Am Bootsschuppen läuten. Es kommt jemand bei jedem Wasserstand.',
    ar: 'اقرع الجرس عند سقيفة القوارب. يأتي أحدهم في كل حالات المد.',
  },
  'leaf-2-title': { de: 'Bevor du gehst', ar: 'قبل أن تذهب' },
  'leaf-2-words': {
    de: 'Lies die Tidentafel. Sei zurück, bevor die Pfähle im Wasser stehen.',
    ar: 'اقرأ لوحة المد. عُد قبل أن تغمر المياه الأوتاد.',
  },
  'leaf-3-title': { de: 'Wenn sie kippt', ar: 'إذا انقلب المد' },
  'leaf-3-words': {
    de: 'Steig auf den Lichtmast. Die Lampe sieht man vom Ufer.',
    ar: 'اصعد سارية المصباح. يُرى المصباح من الشاطئ.',
  },
  'slate-title': { de: 'Runde des Wärters', ar: 'جولة الحارس' },
  'slate-samples': {
    de: '{samples, plural, =0 {Keine Proben} one {# Probe} other {# Proben}}',
    ar: '{samples, plural, =0 {لا عينات} one {عينة} two {عينتان} few {# عينات} other {# عينة}}',
  },
  'ebb-text': { de: 'Auf die Ebbe warten', ar: 'انتظر الجزر' },
};

/** Of prompts: what the texts are that are put into the template, as they are written in English. */
const PROMPTS: Record<string, InOthers> = {
  Use: { de: 'Benutzen', ar: 'استعمل' },
  '{gate, plural, =0 {Lift the gate} other {Lower the gate}}': {
    de: '{gate, plural, =0 {Schütz heben} other {Schütz senken}}',
    ar: '{gate, plural, =0 {ارفع البوابة} other {أنزل البوابة}}',
  },
  '{door, plural, =0 {Open} other {Close}}': {
    de: '{door, plural, =0 {Öffnen} other {Schließen}}',
    ar: '{door, plural, =0 {افتح} other {أغلق}}',
  },
  'Pump house door': { de: 'Tür des Pumpenhauses', ar: 'باب بيت المضخة' },
  'Read the tide': { de: 'Tide ablesen', ar: 'اقرأ المد' },
  'Tide board, {tide, number, ::.00} m': { de: 'Pegel, {tide, number, ::.00} m', ar: 'لوح المد، {tide, number, ::.00} م' },
  'Prime the pump': { de: 'Pumpe anfüllen', ar: 'جهّز المضخة' },
  'three strokes': { de: 'drei Hübe', ar: 'ثلاث ضربات' },
};

/** Of an element of the glass, by its id. */
export const glassInOthers = (id: string): InOthers | undefined => GLASS[id];
/** Of a text that a prompt is given; one that names a node has none. */
export const promptInOthers = (text: string): InOthers | undefined => PROMPTS[text];
