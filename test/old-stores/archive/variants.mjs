export default [
  { name: 'archive-1-late-page', mistake: 'a page from before the restart is taken', replace: [['      if (turn !== that.turn) return;\n      that.photos =', '      that.photos =']] },
  { name: 'archive-2-twice', mistake: 'a photo that comes again stands there twice', replace: [["return known ? all.map(function (p) { return p.key === photo.key ? photo : p; }) : all.concat([photo]);", 'return all.concat([photo]);']] },
  { name: 'archive-3-old-token', mistake: 'the new token is not kept', replace: [['      that.token = token;\n', '']] },
  { name: 'archive-4-renews-anything', mistake: 'any failure asks for a new token', replace: [['if (error.status === 401) return', 'if (error.status >= 400) return']] },
  { name: 'archive-5-loading-stays', mistake: 'loading stays on when no token is given', replace: [["      that.loading = false;\n      that.problem = 'Please sign in again.';", "      that.problem = 'Please sign in again.';"]] },
  { name: 'archive-6-same-page', mistake: 'the same page is asked for again and again', replace: [['      that.page += 1;\n', '']] },
  { name: 'archive-7-first-of-page', mistake: 'the first photo of a page is left out', replace: [['answer.photos.reduce(', 'answer.photos.slice(1).reduce(']] },
]
