import garage from './garage.cjs';

export default {
  name: 'old garage',
  keepsSnapshots: false,
  create() {
    const g = garage.make();
    return {
      actions: { garage: {
        type: ({ field, text }) => g.type(field, text), submit: () => g.submit(), raise: (n) => g.raise(n),
        fit: ({ part, price }) => g.fit(part, price), lower: () => g.lower(), hand: (n) => g.hand(n),
      } },
      state: { garage: { cards: () => g.cards, next: () => g.next, lift: () => g.lift, form: () => g.form, complaint: () => g.complaint } },
      derived: { garage: { waiting: () => g.waiting(), bill: (n) => g.bill(n) } },
    };
  },
};
