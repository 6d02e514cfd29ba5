// Numbers in fields.
const { parse, shown } = await load("tank/numbers.js");
is(parse("12,5"), 12.5, "a comma");
is(parse(" 12.5 cm"), 12.5, "with its unit behind");
is(parse("\u22123"), -3, "a printed minus");
is(parse("10", 2.54), 25.4, "in the keeper's unit");
is(Number.isNaN(parse("")), true, "nothing");
is(Number.isNaN(parse("deep")), true, "words");
is(shown(25.4, 2.54), "10", "no zeros behind");
is(shown(1 / 3), "0.33", "two digits");
is(shown(1 / 3, 1, 1), "0.3", "one digit");
for (const cm of [0, -2.5, 17.25, 120]) is(parse(shown(cm, 2.54, 6), 2.54).toFixed(3), cm.toFixed(3), "there and back: " + cm);
