/** Three small files of a project, as a planner brings them; the third has columns of other names. */
const list = (keyword: string, ...urls: string[]) =>
  urls.map((url, i) => `${keyword},${i + 1},https://${url},Title of ${url}`);

export const keywords = `keyword,volume,difficulty,intent
kayak dry suit,1000,20,transactional
dry suit for kayaking,600,30,transactional
drysuit kayak,400,30,transactional
kayak paddle,900,10,commercial
kayak paddles,300,10,commercial
how to roll a kayak,800,5,informational
kayak roll lesson,200,5,informational
kayak clock,many,5,informational
`;

export const pages = `Adresse;Titel;H1
https://www.fenwater.example/dry-suits;Dry suits for kayaking;Dry suits
https://www.fenwater.example/guide;Choosing what to wear on the water;Choosing
https://www.fenwater.example/paddles;Kayak paddles;Paddles
https://www.fenwater.example/about;About us;About
`;

const own = 'www.fenwater.example';

export const results = [
  'keyword,position,url,title',
  ...list(
    'kayak dry suit',
    'a1.example/',
    `${own}/dry-suits`,
    'a2.example/',
    'a3.example/',
    'a4.example/',
    `${own}/guide`,
  ),
  ...list(
    'dry suit for kayaking',
    'a2.example/',
    'a1.example/',
    `${own}/dry-suits`,
    'a3.example/',
    `${own}/guide`,
    'a5.example/',
  ),
  ...list('drysuit kayak', 'a1.example/', 'a3.example/', `${own}/dry-suits`, 'a2.example/', 'a9.example/'),
  ...list('kayak paddle', 'b1.example/', 'b2.example/', `${own}/paddles`, 'b3.example/', 'b4.example/'),
  ...list('kayak paddles', 'b2.example/', 'b1.example/', 'b3.example/', `${own}/paddles`, 'b5.example/'),
  ...list('how to roll a kayak', 'c1.example/', 'c2.example/', 'c3.example/', 'c4.example/', 'c5.example/'),
  ...list('kayak roll lesson', 'c2.example/', 'c1.example/', 'c3.example/', 'c4.example/', 'c7.example/'),
].join('\n');

/** Twenty days in which one query was answered by two pages of the site. */
export const performance = [
  'query,page,date,clicks,impressions,position',
  ...Array.from({ length: 20 }, (_, i) => `2026-10-${String(i + 1).padStart(2, '0')}`).flatMap((day) => [
    `kayak dry suit,https://${own}/dry-suits,${day},4,30,2.5`,
    `Kayak Dry Suit,https://${own}/guide,${day},3,20,6.5`,
  ]),
  'kayak dry suit,https://rival.example/,2026-10-01,1,1,1',
].join('\n');
