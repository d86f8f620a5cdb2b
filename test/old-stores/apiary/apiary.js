// closures over variables; no semicolons, no classes
let lastId = 0

export function openRound() {
  let hives = []
  let picked = []
  let query = ''
  let order = 'name'

  const byId = id => hives.find(h => h.id === id)
  const isPicked = id => picked.indexOf(id) >= 0
  const allPicked = () => hives.length > 0 && hives.every(h => isPicked(h.id))
  const compare = (a, b) => (a < b ? -1 : a > b ? 1 : 0)

  return {
    place(name, frames) {
      name = name.trim()
      if (name === '') return false
      if (hives.some(h => h.name === name)) return false
      hives = hives.concat({ id: 'hive' + ++lastId, name, frames, queen: true })
      return true
    },
    look(text) { query = text },
    sort(by) { order = by },
    pick(id) {
      if (!byId(id)) return false
      picked = isPicked(id) ? picked.filter(p => p !== id) : picked.concat(id)
      return true
    },
    pickAll() { picked = allPicked() ? [] : hives.map(h => h.id) },
    addFrames(n) {
      if (picked.length === 0) return false
      hives = hives.map(h => isPicked(h.id) ? { ...h, frames: Math.max(0, Math.min(12, h.frames + n)) } : h)
      return true
    },
    queenLost(id) {
      const hive = byId(id)
      if (!hive || !hive.queen) return false
      hives = hives.map(h => h === hive ? { ...h, queen: false } : h)
      return true
    },
    remove() {
      if (picked.length === 0) return false
      hives = hives.filter(h => !isPicked(h.id))
      picked = []
      return true
    },
    get hives() { return hives },
    get picked() { return picked },
    get query() { return query },
    get order() { return order },
    shown() {
      const wanted = query.trim().toLowerCase()
      return hives
        .filter(h => h.name.toLowerCase().includes(wanted))
        .sort((a, b) => (order === 'name' ? compare(a.name, b.name) : 0) || a.frames - b.frames)
        .map(h => h.id)
    },
    frames: () => hives.reduce((n, h) => n + h.frames, 0),
    allPicked,
    weak: below => hives.filter(h => h.frames < below || !h.queen).map(h => h.name),
  }
}
