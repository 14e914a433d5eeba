"""Trains the small networks that hear hits, beats and presence, from what makeTraining.ts made.

usage: [RESUME=WEIGHTS.json] [SIZE=CELLS] [RATE=HIGHEST] [SEED=N] [LENGTH=FRAMES] train.py hits|beat|speech OUT.json PROCESSOR-MINUTES DATA [DATA ...]     (Debian: python3-torch, python3-numpy, libopenblas0-pthread, without which it takes ten times as long)
The network is a gated recurrent unit over band frames; src/core/hearing/gru.ts runs the same arithmetic.
"""
import json, os, sys, time
import numpy as np, torch
torch.set_num_threads(1)
what, out, minutes, sources = sys.argv[1], sys.argv[2], float(sys.argv[3]), sys.argv[4:]
SEED = int(os.environ.get('SEED', 4)); torch.manual_seed(SEED); rng = np.random.default_rng(SEED)
HOP = 256 / 48000
pieces = []
for s in sources:
    d = json.load(open(s + '.json')); n = d['count']
    x = np.fromfile(s + '.f32', dtype=np.float32).reshape(-1, n)
    bands = d.get('bands', n)
    for p in d['pieces']: pieces.append((p, x[p['offset']:p['offset'] + p['frames']]))

def hit_inputs(x):
    flat = x[:, bands:]; x = x[:, :bands]
    # each band now, its leap over the hop before, and over the quietest of the three before that
    prev = np.vstack([x[:1], x[:-1]])
    lag = lambda k: np.vstack([np.repeat(x[:1], k, 0), x[:-k]])
    base = np.minimum(np.minimum(lag(2), lag(3)), lag(4))
    return np.hstack([x, x - prev, x - base, flat]).astype(np.float32)

def pooled(x):
    # two hops: the louder of each band, and how far it rose over the two before
    m = x[:len(x) // 2 * 2].reshape(-1, 2, x.shape[1]).max(1)
    prev = np.vstack([m[:1], m[:-1]])
    return np.hstack([m, np.maximum(0, m - prev)]).astype(np.float32)

def fill(target, weight, times, first, last, after, step, w=1.0):
    n = len(target)
    for t in times:
        a = int(np.ceil((t + first) / step)) - 1   # frame k ends at (k+1)*step
        b = int(np.floor((t + last) / step)) - 1
        c = int(np.floor((t + after) / step)) - 1
        # a frame early is neither right nor wrong; before that it would be a guess
        weight[max(0, a - 1):max(0, min(n, a))] = 0.1
        weight[max(0, b + 1):max(0, min(n, c + 1))] *= 0.1
    for t in times:
        a = int(np.ceil((t + first) / step)) - 1; b = int(np.floor((t + last) / step)) - 1
        target[max(0, a):max(0, min(n, b + 1))] = 1
        weight[max(0, a):max(0, min(n, b + 1))] = w

def prepare(p, x):
    if what == 'hits':
        n = len(x); t = np.zeros((n, 4), np.float32); w = np.ones((n, 4), np.float32)
        if not p['hitKnown']:
            w[:, 0] = 0; w[:, 1] = 1; w[:, 2] = 0.15; w[:, 3] = 0.15
        for f in p['faint']:
            w[max(0, int((f - 0.01) / HOP)):int((f + 0.05) / HOP), 0] = 0
        fill(t[:, 0], w[:, 0], p['any'], 0.0055, 0.0215, 0.034, HOP, 2.0)
        # a snare under a bed is the hardest to tell: it has a little longer, and counts for more
        for i, k, first in ((1, 'kick', 0.0165), (2, 'snare', 0.0185), (3, 'hat', 0.0165)): fill(t[:, i], w[:, i], p[k], first, first + 0.025, first + 0.0415, HOP, 1.5)
        w[:, 2] *= 1.6
        w[:8] = 0
        return hit_inputs(x), t, w
    x = pooled(x[:, :bands]); n = len(x); step = 2 * HOP
    if what == 'beat':
        if not p['beatKnown']: return None
        t = np.zeros((n, 2), np.float32); w = np.ones((n, 2), np.float32)
        for i, k in enumerate(('beats', 'downbeats')):
            for b in p[k]:
                j = int(round((b + 0.008) / step))
                for o, v in ((-2, .25), (-1, .7), (0, 1), (1, 1), (2, .7), (3, .25)):
                    if 0 <= j + o < n: t[j + o, i] = max(t[j + o, i], v)
            w[:, i] += 2 * t[:, i]
        return x, t, w
    t = np.zeros((n, 1), np.float32); w = np.ones((n, 1), np.float32)
    for a, b in p['speech']:
        t[max(0, int(a / step)):max(0, int(b / step)), 0] = 1
        for e in (a, b): w[max(0, int(e / step)):max(0, int((e + 0.25) / step)), 0] = 0.2
    if p['name'] != 'speech' and p['speech']: w *= 0.5
    return x, t, w

SIZE, CHUNK, BATCH = {'hits': (52, 240, 48), 'beat': (48, 700, 32), 'speech': (20, 450, 32)}[what]
SIZE = int(os.environ.get('SIZE', SIZE))
# longer stretches, fewer at a time: what a network has heard for half a minute must not lead it astray
LENGTH = int(os.environ.get('LENGTH', CHUNK)); BATCH = max(4, BATCH * CHUNK // LENGTH); CHUNK = LENGTH
data = [q for q in (prepare(p, x) for p, x in pieces) if q is not None]
rng.shuffle(data := data)
held = max(4, len(data) // 10); test, train = data[:held], data[held:]
inputs, outputs = data[0][0].shape[1], data[0][1].shape[1]
allx = np.vstack([d[0] for d in train[:120]]); mean, std = allx.mean(0), allx.std(0) + 0.05
lengths = np.array([len(d[0]) for d in train], float)
class Net(torch.nn.Module):
    def __init__(self):
        super().__init__(); self.g = torch.nn.GRU(inputs, SIZE, batch_first=True); self.o = torch.nn.Linear(SIZE, outputs)
    def forward(self, x, h=None):
        y, h = self.g(x, h); return self.o(y), h
net = Net()
RATE = 3e-3
if os.environ.get('RESUME'):
    # goes on from exported weights, whose first layer has the normalising in it
    d = json.load(open(os.environ['RESUME'])); RATE = 1.5e-3
    m = lambda k, shape: torch.tensor(np.array(d[k]['values'], np.float32) * d[k]['scale']).reshape(shape)
    old = d['size']
    # cells beyond those of the file begin as they are drawn, unheard by the old ones and by the output
    wi = m('inputWeights', (3, old, inputs)); bi = m('inputBias', (3, old)); m3 = lambda p: p.view(3, SIZE, -1)
    with torch.no_grad():
        m3(net.g.weight_ih_l0)[:, :old] = wi * torch.from_numpy(std); m3(net.g.bias_ih_l0)[:, :old, 0] = bi + wi @ torch.from_numpy(mean)
        m3(net.g.weight_hh_l0)[:, :old, :old] = m('stateWeights', (3, old, old)); m3(net.g.weight_hh_l0)[:, :old, old:] = 0
        m3(net.g.bias_hh_l0)[:, :old, 0] = m('stateBias', (3, old))
        net.o.weight[:, :old] = m('outWeights', (outputs, old)); net.o.weight[:, old:] = 0; net.o.bias.copy_(m('outBias', (outputs,)))
RATE = float(os.environ.get('RATE', RATE))
def export():
    def q(a):
        a = a.detach().numpy().astype(float); s = float(np.abs(a).max()) / 8191 or 1.0
        return {'scale': s, 'values': np.round(a / s).astype(int).ravel().tolist()}
    g = net.g
    # the normalising of inputs is folded into the first weights
    wi = g.weight_ih_l0.detach().numpy() / std; bi = g.bias_ih_l0.detach().numpy() - wi @ mean
    json.dump({'inputs': inputs, 'size': SIZE, 'outputs': outputs, 'inputWeights': q(torch.tensor(wi)), 'stateWeights': q(g.weight_hh_l0), 'inputBias': q(torch.tensor(bi)), 'stateBias': q(g.bias_hh_l0), 'outWeights': q(net.o.weight), 'outBias': q(net.o.bias)}, open(out, 'w'))

def coloured():
    # another room, mixer and level: a smooth curve over the bands
    at = np.linspace(0, bands - 1, 5)
    return np.interp(np.arange(bands), at, rng.normal(0, 0.15, 5)) + rng.normal(0, 0.15)

def faster(x, t, w, speed):
    # the same music at another tempo; its rises anew
    at = np.arange(CHUNK) * speed; k = at.astype(int); f = (at - k)[:, None]
    between = lambda v: v[k] * (1 - f) + v[k + 1] * f
    m = between(x[:, :bands])
    return np.hstack([m, np.maximum(0, m - np.vstack([m[:1], m[:-1]]))]).astype(np.float32), between(t).astype(np.float32), between(w).astype(np.float32)

opt = torch.optim.Adam(net.parameters(), RATE)
start = time.process_time(); step_n = 0; running = None
bce = torch.nn.BCEWithLogitsLoss(reduction='none')
while time.process_time() - start < minutes * 60:
    share = (time.process_time() - start) / (minutes * 60)
    for g in opt.param_groups: g['lr'] = RATE * min(1, step_n / 50) * (0.02 + 0.98 * 0.5 * (1 + np.cos(np.pi * share)))
    xs, ts, ws = [], [], []
    for i in rng.choice(len(train), BATCH, p=lengths / lengths.sum()):
        x, t, w = train[i]
        speed = np.exp(rng.uniform(-0.14, 0.14)) if what == 'beat' else 1.0
        wide = int(CHUNK * speed) + 2
        a = 0 if rng.random() < 0.15 else rng.integers(0, max(1, len(x) - wide))
        c = slice(a, a + wide)
        if len(x[c]) < wide: continue
        x, t, w = x[c], t[c], w[c]
        if what == 'beat': x, t, w = faster(x, t, w, speed)
        x, t, w = x[:CHUNK].copy(), t[:CHUNK], w[:CHUNK].copy()
        x[:, :bands] += coloured()
        if a > 0: w[:{'hits': 30, 'beat': 190, 'speech': 60}[what]] = 0
        xs.append(x); ts.append(t); ws.append(w)
    x = torch.from_numpy((np.stack(xs) - mean) / std).float(); t = torch.from_numpy(np.stack(ts)); w = torch.from_numpy(np.stack(ws))
    y, _ = net(x + 0.05 * torch.randn_like(x))
    loss = (bce(y, t) * w).sum() / w.sum()
    opt.zero_grad(); loss.backward(); torch.nn.utils.clip_grad_norm_(net.parameters(), 1.0); opt.step(); step_n += 1
    running = loss.item() if running is None else 0.98 * running + 0.02 * loss.item()
    if step_n % 1000 == 0: export()
    if step_n % 200 == 0: print(step_n, round(time.process_time() - start), round(running, 5), flush=True)

export()
net.eval()
with torch.no_grad():
    total = 0; probs = []
    for x, t, w in test:
        y, _ = net(torch.from_numpy((x[None] - mean) / std).float()); y = y[0]
        total += float((bce(y, torch.from_numpy(t)) * torch.from_numpy(w)).mean()); probs.append((torch.sigmoid(y).numpy(), t, w))
    print('held-out loss', total / len(test), 'steps', step_n)
    if what == 'speech':
        for th in (0.3, 0.5, 0.7):
            tp = sum(((p > th) & (t > .5)).sum() for p, t, w in probs); fp = sum(((p > th) & (t < .5)).sum() for p, t, w in probs); fn = sum(((p <= th) & (t > .5)).sum() for p, t, w in probs)
            print(th, 'frame F', 2 * tp / (2 * tp + fp + fn))
