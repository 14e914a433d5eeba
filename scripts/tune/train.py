"""Trains the small networks that hear strokes, beats and presence, from what makeTraining.ts made.

usage: [SIZES=LOWER,UPPER] [RATE=HIGHEST] [SEED=N] [LENGTH=FRAMES] train.py hits|beat OUT.json PROCESSOR-MINUTES DATA [DATA ...]
(Debian: python3-torch, python3-numpy, libopenblas0-pthread, without which it takes ten times as long)
The networks are gated recurrent units in two layers; src/core/hearing/gru.ts runs the same arithmetic. What goes in is made here as
src/core/hearing/hitListener.ts and pooledFrame.ts make it. The network of presence was trained on the frames of before, and stays.
"""
import json, os, sys, time
import numpy as np, torch
torch.set_num_threads(1)
what, out, minutes, sources = sys.argv[1], sys.argv[2], float(sys.argv[3]), sys.argv[4:]
SEED = int(os.environ.get('SEED', 4)); torch.manual_seed(SEED); rng = np.random.default_rng(SEED)
HOP = 256 / 48000
FINE, FLAT, COMMON, MOMENTS = 40, 4, 6, 8
AGO = 0.048   # how long ago at most an onset can be told to be
STROKES = ('any', 'kick', 'snare', 'hat')

def lag(x, k): return np.vstack([np.repeat(x[:1], k, 0), x[:-k]])

def hit_inputs(x):
    # each band now, its leap over the hop before and over the quietest of the three before that; noise, sides; moments of four hops
    b = x[:, :FINE]; rest = x[:, FINE:FINE + FLAT + COMMON]; m = x[:, FINE + FLAT + COMMON:]
    base = np.minimum(np.minimum(lag(b, 2), lag(b, 3)), lag(b, 4))
    return np.hstack([b, b - lag(b, 1), b - base, rest, m, lag(m, 1), lag(m, 2), lag(m, 3)]).astype(np.float32)

def pooled(x):
    # two hops: the louder of each band
    return x[:len(x) // 2 * 2, :FINE].reshape(-1, 2, FINE).max(1)
def with_rises(m): return np.hstack([m, np.maximum(0, m - lag(m, 1))]).astype(np.float32)

def fill(target, weight, ago, times, first, last, after, w):
    n = len(target)
    for t in times:
        a = int(np.ceil((t + first) / HOP)) - 1   # frame k ends at (k+1) hops
        b = int(np.floor((t + last) / HOP)) - 1
        c = int(np.floor((t + after) / HOP)) - 1
        # a frame early is neither right nor wrong; before that it would be a guess
        weight[max(0, a - 1):max(0, min(n, a))] = 0.1
        weight[max(0, b + 1):max(0, min(n, c + 1))] *= 0.1
    for t in times:
        a = max(0, int(np.ceil((t + first) / HOP)) - 1); b = min(n, int(np.floor((t + last) / HOP)))
        if b <= a: continue
        target[a:b] = 1; weight[a:b] = w
        ago[a:b] = np.clip(((np.arange(a, b) + 1) * HOP - t) / AGO, 0, 1)

def prepare_hits(p, x):
    n = len(x); t = np.zeros((n, 4), np.float32); w = np.ones((n, 4), np.float32); g = np.zeros((n, 4), np.float32)
    if not p['hitKnown']: w[:, 0] = 0; w[:, 2] = w[:, 3] = 0.15
    for f in p['faint']: w[max(0, int((f - 0.01) / HOP)):int((f + 0.05) / HOP), 0] = 0
    for f in p.get('unsure', ()): w[max(0, int((f - 0.01) / HOP)):int((f + 0.07) / HOP), 2] = 0
    fill(t[:, 0], w[:, 0], g[:, 0], p['any'], 0.0055, 0.0215, 0.034, 2.0)
    # a snare under a bed is the hardest to tell: it has a little longer, and counts for more
    for i, first in ((1, 0.0165), (2, 0.0185), (3, 0.0165)):
        fill(t[:, i], w[:, i], g[:, i], p[STROKES[i]], first, first + 0.025, first + 0.0415, 1.5)
    w[:, 2] *= 1.6
    w[:8] = 0
    return x, t.astype(np.float16), w.astype(np.float16), g.astype(np.float16)

def prepare_beat(p, x):
    if not p['beatKnown']: return None
    x = pooled(x); n = len(x); step = 2 * HOP
    t = np.zeros((n, 2), np.float32); w = np.ones((n, 2), np.float32)
    for i, k in enumerate(('beats', 'downbeats')):
        for b in p[k]:
            j = int(round((b + 0.008) / step))
            for o, v in ((-2, .25), (-1, .7), (0, 1), (1, 1), (2, .7), (3, .25)):
                if 0 <= j + o < n: t[j + o, i] = max(t[j + o, i], v)
        w[:, i] += 2 * t[:, i]
    return x, t, w

data = []
for s in sources:
    d = json.load(open(s + '.json')); n = d['count']; assert n == FINE + FLAT + COMMON + MOMENTS
    whole = sum(p['frames'] for p in d['pieces'])
    x = np.fromfile(s + '.f32', dtype=np.float32, count=whole * n).reshape(-1, n).astype(np.float16)
    for p in d['pieces']:
        q = (prepare_hits if what == 'hits' else prepare_beat)(p, x[p['offset']:p['offset'] + p['frames']])
        if q is not None: data.append((p['name'], *q))
CHUNK, BATCH = {'hits': (240, 48), 'beat': (1200, 36)}[what]
LENGTH = int(os.environ.get('LENGTH', CHUNK)); BATCH = max(4, BATCH * CHUNK // LENGTH); CHUNK = LENGTH
SIZES = [int(v) for v in os.environ.get('SIZES', '72,64' if what == 'hits' else '64,64').split(',')]
rng.shuffle(data := data)
held = max(4, len(data) // 20); test, train = data[:held], data[held:]
features = (lambda x: hit_inputs(x.astype(np.float32))) if what == 'hits' else (lambda x: with_rises(x.astype(np.float32)))
inputs = features(train[0][1][:9]).shape[1]; outputs = 8 if what == 'hits' else 2
allx = np.vstack([features(d[1]) for d in train[:150]]); mean, std = allx.mean(0), allx.std(0) + 0.05; del allx
lengths = np.array([len(d[1]) for d in train], float)
# what there is little of counts for more
for i, d in enumerate(train): lengths[i] *= {'clicks': 2.0, 'lines': 1.5, 'speech': 1.2}.get(d[0], 1.0)
print(len(train), 'pieces', int(sum(len(d[1]) for d in train) * HOP * (1 if what == 'hits' else 2)), 's', inputs, 'inputs', SIZES, flush=True)
class Net(torch.nn.Module):
    def __init__(self):
        super().__init__(); a, b = SIZES
        self.g = torch.nn.GRU(inputs, a, batch_first=True); self.k = torch.nn.GRU(a, b, batch_first=True); self.o = torch.nn.Linear(b, outputs)
    def forward(self, x): return self.o(self.k(self.g(x)[0])[0])
net = Net()
if os.environ.get('RESUME'): net.load_state_dict(torch.load(os.environ['RESUME']))
RATE = float(os.environ.get('RATE', 3e-3))
def export():
    def q(a):
        a = a.detach().numpy().astype(float); s = float(np.abs(a).max()) / 8191 or 1.0
        return {'scale': s, 'values': np.round(a / s).astype(int).ravel().tolist()}
    cells = []
    for g, m, d in ((net.g, mean, std), (net.k, np.zeros(SIZES[0]), np.ones(SIZES[0]))):
        # the normalising of inputs is folded into the first weights
        wi = g.weight_ih_l0.detach().numpy() / d; bi = g.bias_ih_l0.detach().numpy() - wi @ m
        cells.append({'inputs': len(m), 'size': g.hidden_size, 'inputWeights': q(torch.tensor(wi)), 'stateWeights': q(g.weight_hh_l0), 'inputBias': q(torch.tensor(bi)), 'stateBias': q(g.bias_hh_l0)})
    json.dump({'cells': cells, 'outputs': outputs, 'outWeights': q(net.o.weight), 'outBias': q(net.o.bias)}, open(out, 'w'), separators=(',', ':'))
    torch.save(net.state_dict(), out + '.pt')

def coloured(x):
    # another room, mixer and level: a smooth curve over the bands
    at = np.linspace(0, FINE - 1, 6); level = rng.normal(0, 0.15)
    x[:, :FINE] += np.interp(np.arange(FINE), at, rng.normal(0, 0.15, 6)) + level
    if what == 'hits': x[:, -MOMENTS:-MOMENTS // 2] += level; x[:, -MOMENTS // 2:] += level + rng.normal(0, 0.12)
    return x

def warped(x, t, w):
    # the same music at another tempo, which now and then goes to a third one, slowly or at once
    speed = np.full(CHUNK, np.exp(rng.uniform(-0.16, 0.16)))
    if rng.random() < 0.35:
        a = int(rng.uniform(0.2, 0.8) * CHUNK); long = 1 if rng.random() < 0.35 else int(rng.uniform(0.1, 0.4) * CHUNK)
        speed = speed * np.exp(rng.uniform(-0.3, 0.3) * np.clip((np.arange(CHUNK) - a) / long, 0, 1))
    at = np.cumsum(speed) - speed[0]
    if at[-1] + 2 >= len(x): return None
    k = at.astype(int); f = (at - k)[:, None]
    between = lambda v: v[k] * (1 - f) + v[k + 1] * f
    return between(x), between(t), between(w)

opt = torch.optim.Adam(net.parameters(), RATE)
start = time.process_time(); n_steps = 0; running = np.zeros(2)
bce = torch.nn.BCEWithLogitsLoss(reduction='none')
p = lengths / lengths.sum()
WARM = 30 if what == 'hits' else 190
while True:
    share = (time.process_time() - start) / (minutes * 60)
    if share >= 1: break
    for group in opt.param_groups: group['lr'] = RATE * min(1, n_steps / 50) * (0.02 + 0.98 * 0.5 * (1 + np.cos(np.pi * share)))
    xs, ts, ws, gs = [], [], [], []
    while len(xs) < BATCH:
        d = train[rng.choice(len(train), p=p)]; x, t, w = d[1:4]
        wide = CHUNK if what == 'hits' else int(CHUNK * 1.4)
        a = 0 if rng.random() < 0.15 else int(rng.integers(0, max(1, len(x) - wide)))
        c = slice(a, a + wide); x, t, w = (v[c].astype(np.float32) for v in (x, t, w))
        if what == 'hits':
            if len(x) < CHUNK: continue
            gs.append(d[4][c].astype(np.float32))
        else:
            q = warped(x, t, w)
            if q is None: continue
            x, t, w = q; t = t.astype(np.float32); w = w.astype(np.float32)
        x = coloured(x); w = w.copy()
        if a > 0: w[:WARM] = 0
        xs.append(features(x)); ts.append(t); ws.append(w)
    x = torch.from_numpy(((np.stack(xs) - mean) / std).astype(np.float32)); t = torch.from_numpy(np.stack(ts)); w = torch.from_numpy(np.stack(ws))
    y = net(x + 0.05 * torch.randn_like(x)); n = t.shape[2]
    loss = (bce(y[..., :n], t) * w).sum() / w.sum(); timing = loss * 0
    if what == 'hits':
        g = torch.from_numpy(np.stack(gs)); on = t * (w > 0)
        timing = ((torch.sigmoid(y[..., n:]) - g).abs() * on).sum() / on.sum().clamp(min=1)
    opt.zero_grad(); (loss + 0.3 * timing).backward(); torch.nn.utils.clip_grad_norm_(net.parameters(), 1.0); opt.step(); n_steps += 1
    now = np.array([loss.item(), timing.item()]); running = now if n_steps == 1 else 0.99 * running + 0.01 * now
    if n_steps % 500 == 0: export()
    if n_steps % 100 == 0: print(n_steps, round(time.process_time() - start), running.round(5).tolist(), flush=True)

export()
net.eval()
with torch.no_grad():
    by = {}
    for name, x, t, w, *_ in test:
        y = net(torch.from_numpy(((features(x)[None] - mean) / std).astype(np.float32)))[0]; n = t.shape[1]
        t, w = (torch.from_numpy(v.astype(np.float32)) for v in (t, w))
        by.setdefault(name, []).append(float((bce(y[:, :n], t) * w).sum() / w.sum()))
    print('held-out loss', {k: round(float(np.mean(v)), 4) for k, v in by.items()}, 'steps', n_steps)
