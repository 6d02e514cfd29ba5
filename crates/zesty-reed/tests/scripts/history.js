// Undo and redo.
const { History } = await load("tank/history.js");
const history = new History(3);
history.begin("a");
is(history.undo(), null, "nothing to undo");
is(history.take("a"), false, "nothing changed");
for (const text of ["b", "c", "d", "e"]) is(history.take(text), true, text);
is(history.undo(), "d", "one back");
is(history.undo(), "c", "two back");
is(history.redo(), "d", "one forward");
is(history.take("f"), true, "a change after going back");
is(history.redo(), null, "what was undone is gone with it");
is([history.undo(), history.undo(), history.undo()].join(), "d,c,b", "all the way back");
is(history.undo(), null, "the oldest was dropped: three are kept");
is(history.present, "b", "and stays what is shown");
