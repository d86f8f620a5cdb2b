export default [
  { name: 'garage-1-hours-as-text', mistake: 'text of a form field is stored where a number is meant', replace: [['plate: self.form.plate.trim(), hours: hours,', 'plate: self.form.plate.trim(), hours: self.form.hours,']] },
  { name: 'garage-2-complaint-stays', mistake: 'the complaint stays after a good form', replace: [["    self.form.hours = '';\n    self.complaint = null;\n", "    self.form.hours = '';\n"], ['    self.complaint = null;\n  };\n\n  self.submit', '  };\n\n  self.submit']] },
  { name: 'garage-3-lift-stays-taken', mistake: 'the lift is not freed', replace: [["    find(self.lift).state = 'done';\n    self.lift = null;\n", "    find(self.lift).state = 'done';\n"]] },
  { name: 'garage-4-price-replaces', mistake: 'a second part of a name replaces the price', replace: [['parts[part] += price;', 'parts[part] = price;']] },
  { name: 'garage-5-one-form', mistake: 'the form is one object for all garages', replace: [["    form: { plate: '', hours: '' },", '    form: FORM,'], ['garage.make = function () {', "var FORM = { plate: '', hours: '' };\ngarage.make = function () {"]] },
  { name: 'garage-6-negative-hours', mistake: 'negative hours are taken', replace: [[" || !isFinite(hours) || hours < 0) {", ' || !isFinite(hours)) {']] },
]
