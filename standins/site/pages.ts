import { houseArt, LOOK } from './look'
import { STROLLER } from './stroll'

const NAV = [
  ['/growing-houses', 'Growing houses'],
  ['/prices', 'Prices'],
  ['/journal', 'Journal'],
  ['/contact', 'Contact'],
] as const

/** A place that Cavlin fills when the point may show there. */
const place = (key: string) => `<div data-cavlin-place="${key}"></div>`
/** The tag as Cavlin gives it out, with the room it keeps. */
const point = (app: string, key: string, height: number) =>
  `<script async src="${app}/w/cavlin.js" data-point="${key}" style="display:block;min-height:${height}px"></script>`

/** All pages of the site by path. */
export function site(app: string): Record<string, string> {
  const p = (path: string, title: string, main: string) => [path, layout(app, path, title, main)] as const
  return Object.fromEntries([
    p(
      '/',
      'Larkmoss Glasshouses',
      `<h1>Rooms of glass, for people who grow things</h1>
<p class="lead">We design, build and look after greenhouses and growing rooms for schools, restaurants, market gardens and councils, and now and then for a vine that has outgrown its corner.</p>
${houseArt(5, '#4f7a3a')}
<div class="three"><div><h2>For schools</h2><p>Rooms where a class of thirty can work at once, with benches at three heights and doors that a wheelchair passes.</p></div><div><h2>For kitchens</h2><p>Leaves and herbs through the winter, on a roof or in a yard, cut an hour before they are served.</p></div><div><h2>For growers</h2><p>Propagation houses that pay for their heat. We show the sums before we draw a line.</p></div></div>
<a class="call" href="/contact">Ask us to come and look</a> <a class="call quiet" href="${app}/p/plan-a-room" data-cavlin-open="form_plan">Plan a growing room</a>`,
    ),
    p(
      '/growing-houses',
      'Growing houses',
      `<h1>Growing houses</h1><p class="lead">Three families, all of timber and glass, all repaired with a screwdriver.</p>
${houseArt(4, '#7c8f4e')}
<h2>The Brackwater</h2><p>Wide and low, with a ridge vent along its whole length. From 30 to 400 m². Stands in eleven school grounds.</p>
<h2>The Fernhollow</h2><p>A tall single bay for terraces and flat roofs. Carries its load on four points.</p>
<h2>The Quernmoor</h2><p>For propagation: double glass to the north, benches on rails, fog instead of spray.</p>
<p><a href="/which-room">Which of them suits you?</a> Five questions tell.</p>
<h2>Already have one?</h2><div class="split"><p>We look after houses of any maker: glass, vents, heating and shading, twice a year or when something breaks.</p>${point(app, 'form_care', 1122)}</div>`,
    ),
    p(
      '/which-room',
      'Which growing room suits you?',
      `<h1>Which growing room suits you?</h1><div class="split"><div><p class="lead">A classroom, a kitchen’s own house, a place to sit in January: they are built alike and used quite differently.</p><p>Answer five questions, and see which of ours comes nearest to yours.</p></div>${place('quiz_suits')}</div>`,
    ),
    p(
      '/prices',
      'Prices',
      `<h1>Prices</h1><p class="lead">What houses cost to build last year, and what they cost to heat. Yours will differ; these are real sums with the names taken off.</p>
<table data-cavlin-mark="Sums by house"><tr><th>House</th><th>Where</th><th>Heated to</th><th>Built for</th></tr><tr><td>Brackwater, 62 m²</td><td>a primary school</td><td>8 °C</td><td>48,300</td></tr><tr><td>Fernhollow, 24 m²</td><td>a hotel roof</td><td>12 °C</td><td>31,900</td></tr><tr><td>Quernmoor, 310 m²</td><td>a market garden</td><td>16 °C</td><td>164,000</td></tr></table>
<div class="split"><div><h2>The whole guide</h2><p>Twenty-two houses, with drawings, heating bills and what we would do differently. Page six surprises most people.</p></div>${point(app, 'form_guide', 718)}</div>`,
    ),
    p(
      '/journal',
      'Journal',
      `<h1>Journal</h1><article><h2><a href="/journal/winter-light">What winter light is worth</a></h2><p>A lettuce does not care how warm it is in January. It cares about hours.</p><h2><a href="/journal/heating-with-compost">Heating with compost</a></h2><p>Forty tonnes of leaves, two pumps and a school that stopped paying for gas.</p></article>
<h2>Ask the gardener</h2><form class="own" name="Ask the gardener" action="/asked"><label>Your question<textarea name="question" rows="3" data-cavlin-keep></textarea></label><label>First name<input name="name" autocomplete="given-name" data-cavlin-keep="first_name"></label><label>E-mail for the answer<input name="mail" type="email" autocomplete="email" data-cavlin-keep="email"></label><label>Card number, if you give to the school garden<input name="card" inputmode="numeric" autocomplete="cc-number" data-cavlin-keep></label><button>Ask</button></form>`,
    ),
    p('/asked', 'Asked', `<h1>Thank you</h1><p class="lead">The gardener reads on Sundays, and answers on Mondays.</p>`),
    p(
      '/journal/winter-light',
      'What winter light is worth',
      `<h1>What winter light is worth</h1><article><p class="lead">A lettuce does not care how warm it is in January. It cares about hours.</p>
<p>We hung light meters in four houses from the first of November and left them there. The tall one, with its steep panes, took in a fifth more light between ten and two than the wide one beside it. By three in the afternoon they were equal, and dim.</p>
<p>What follows from it: in winter, glass on the south side should stand steeper than looks right. And the cheapest lamp is a white wall to the north.</p>
<h2>Four letters a year</h2>${point(app, 'form_journal', 470)}</article>`,
    ),
    p(
      '/journal/heating-with-compost',
      'Heating with compost',
      `<h1>Heating with compost</h1><article><p class="lead">Forty tonnes of leaves, two pumps and a school that stopped paying for gas.</p><p>The heap stands behind the bicycle shed and is turned by the caretaker with a borrowed loader. Inside, at sixty degrees, runs four hundred metres of pipe. In the growing room, at nine in the morning in February, it is eleven degrees and smells of nothing at all.</p><p><a href="/prices">What a room like this costs</a> stands among our prices.</p><h2>Four letters a year</h2>${place('form_journal')}</article>`,
    ),
    p(
      '/contact',
      'Contact',
      `<h1>Ask us to come and look</h1><div class="split"><div><p class="lead">One of us comes with a light meter, a level and a notebook. After an hour we can tell you what would grow there, and roughly what it would cost.</p><p>The yard, Millrace Lane, Larkmoss. Weekdays from eight to six.</p></div>${point(app, 'form_visit', 1720)}</div>`,
    ),
    ['/not-found', layout(app, '', 'Not here', '<h1>Nothing grows at this address</h1><p><a href="/">To the front door</a></p>')] as const,
  ])
}

function layout(app: string, path: string, title: string, main: string): string {
  const nav = NAV.map(([to, name]) => `<a href="${to}"${path.startsWith(to) ? ' aria-current="page"' : ''}>${name}</a>`).join('')
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><title>${title === 'Larkmoss Glasshouses' ? title : `${title} – Larkmoss Glasshouses`}</title><style>${LOOK}</style><link rel="icon" href="data:,">
${STROLLER}
<script>window.cavlin=window.cavlin||Object.assign(function(){(cavlin.q=cavlin.q||[]).push([].slice.call(arguments))},{q:[]})</script>
<script async src="${app}/w/cavlin.js"></script></head><body>
<header><strong><a href="/">Larkmoss Glasshouses</a></strong><nav aria-label="Main">${nav}</nav></header>
<main>${main}</main>
<footer>Larkmoss Glasshouses. Made of timber, glass and patience. We are made up, and so is everybody who buys from us. <a href="#" id="notice" style="color:inherit">What we remember of your visit</a> <a href="/visitors" style="color:inherit">Send visitors</a></footer>
<div class="ask" id="ask" role="region" aria-label="What we remember" hidden><p>May we remember which pages you read? Whoever calls you back then knows what you care about. Nothing is passed on.</p><button data-say="agree">Yes, remember</button><button data-say="forget">No, thank you</button></div>
<script>
(function(){
  var ask=document.getElementById('ask'),said=null
  try{said=localStorage.getItem('larkmoss.asked')}catch(e){}
  ask.hidden=!!said
  document.getElementById('notice').onclick=function(e){e.preventDefault();ask.hidden=false;ask.querySelector('button').focus()}
  ask.onclick=function(e){var say=e.target.getAttribute('data-say');if(!say)return;cavlin(say);ask.hidden=true;try{localStorage.setItem('larkmoss.asked',say)}catch(e){}}
})()
</script></body></html>`
}
