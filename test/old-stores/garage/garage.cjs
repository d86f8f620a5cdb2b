// One object, changed in place; the view is drawn after every call.
var garage = (module.exports = {});

garage.make = function () {
  var self = {
    cards: [],
    next: 1,
    lift: null,
    form: { plate: '', hours: '' },
    complaint: null,
  };
  var HOURLY = 62;

  function find(number) {
    for (var i = 0; i < self.cards.length; i++) if (self.cards[i].number === number) return self.cards[i];
    return null;
  }

  self.type = function (field, text) {
    self.form[field] = field === 'plate' ? text.toUpperCase() : text;
    self.complaint = null;
  };

  self.submit = function () {
    var hours = Number(self.form.hours);
    if (self.form.plate.trim() === '' || self.form.hours.trim() === '' || !isFinite(hours) || hours < 0) {
      self.complaint = 'Fill in the plate and the hours.';
      return;
    }
    self.cards.push({ number: self.next++, plate: self.form.plate.trim(), hours: hours, parts: {}, state: 'waiting' });
    self.form.plate = '';
    self.form.hours = '';
    self.complaint = null;
  };

  self.raise = function (number) {
    var card = find(number);
    if (self.lift !== null || !card || card.state !== 'waiting') return false;
    card.state = 'lifted';
    self.lift = number;
    return true;
  };

  self.fit = function (part, price) {
    if (self.lift === null) return false;
    var parts = find(self.lift).parts;
    if (!Object.prototype.hasOwnProperty.call(parts, part)) Object.defineProperty(parts, part, { value: 0, enumerable: true, writable: true, configurable: true });
    parts[part] += price;
    return true;
  };

  self.lower = function () {
    if (self.lift === null) return false;
    find(self.lift).state = 'done';
    self.lift = null;
    return true;
  };

  self.hand = function (number) {
    var card = find(number);
    if (!card || card.state !== 'done') return false;
    self.cards.splice(self.cards.indexOf(card), 1);
    return true;
  };

  self.waiting = function () {
    return self.cards.filter(function (c) { return c.state === 'waiting'; }).length;
  };

  self.bill = function (number) {
    var card = find(number);
    if (!card) return null;
    var sum = card.hours * HOURLY;
    var parts = 0;
    for (var part in card.parts) parts += card.parts[part];
    return sum + parts;
  };

  return self;
};
