// What a form said before: undo and redo over its texts.

export class History {
  constructor(most = 200) {
    this.most = most;
    this.past = [];
    this.future = [];
    this.present = "";
  }

  // Begins with what the form says now.
  begin(text) {
    this.present = text;
  }

  // Takes a finished change; `false` where nothing changed.
  take(text) {
    if (text === this.present) return false;
    this.past.push(this.present);
    if (this.past.length > this.most) this.past.shift();
    this.future = [];
    this.present = text;
    return true;
  }

  // One step back, or forward again; the text to show, or null at the end.
  undo() {
    return this.step(this.past, this.future);
  }

  redo() {
    return this.step(this.future, this.past);
  }

  step(from, to) {
    if (from.length === 0) return null;
    to.push(this.present);
    this.present = from.pop();
    return this.present;
  }
}
