"""Trains the small network that hears structure, from what makeStructure.ts made.

usage: [SIZE=CELLS] [RATE=HIGHEST] [SEED=N] structure.py OUT.json PROCESSOR-MINUTES DATA [DATA ...]
(Debian: python3-torch, python3-numpy, libopenblas0-pthread)
One layer of gated recurrent units; src/core/hearing/gru.ts runs the same arithmetic. Its outputs: the low end is held back, a build,
how far it has come, a drop, a return, another section.
"""
import json, os, sys, time
import numpy as np, torch
torch.set_num_threads(1)
out, minutes, sources = sys.argv[1], float(sys.argv[2]), sys.argv[3:]
SEED = int(os.environ.get('SEED', 4)); torch.manual_seed(SEED); rng = np.random.default_rng(SEED)
SIZE = int(os.environ.get('SIZE', 48)); RATE = float(os.environ.get('RATE', 4e-3))
STEP = 8 * 256 / 48000
CHUNK, BATCH, WARM = 800, 32, 120
HELD, BUILD, PROGRESS, DROP, RETURN, SECTION = range(6)

def prepare(p):
    n = p['frames']; end = (np.arange(n) + 1) * STEP
    t = np.zeros((n, 6), np.float32); w = np.ones((n, 6), np.float32); w[:, PROGRESS] = 0
    was = None
    def happens(i, at, first, last, weight):
        # before it is heard it cannot be known, and after that it is no news
        w[(end > at - 0.2) & (end < at + last + 0.5), i] = 0.05
        now = (end >= at + first) & (end <= at + last); t[now, i] = 1; w[now, i] = weight
    for q in p['passages']:
        a, b, what = q['from'], q['to'], q['what']
        inside = (end > a + 0.2) & (end <= b + 0.1)
        if what in ('break', 'build'): t[inside, HELD] = 1
        w[(end > a - 0.1) & (end < a + 1.2), HELD] = 0.2
        if what == 'build':
            t[inside, BUILD] = 1; w[(end > a - 0.1) & (end < a + 3), BUILD] = 0.2
            t[inside, PROGRESS] = np.clip((end[inside] - a) / (b - a), 0, 1); w[inside, PROGRESS] = 1
        if was:
            happens(SECTION, a, 0.2, 1.2, 3)
            if what not in ('break', 'build'):
                if was == 'build': happens(DROP, a, 0.05, 0.4, 10)
                if was == 'break': happens(RETURN, a, 0.05, 0.5, 8)
        was = what
    return t, w

data = []
for s in sources:
    d = json.load(open(s + '.json')); n = d['count']
    whole = sum(p['frames'] for p in d['pieces'])
    x = np.fromfile(s + '.f32', dtype=np.float32, count=whole * n).reshape(-1, n)
    for p in d['pieces']: data.append((p, x[p['offset']:p['offset'] + p['frames']], *prepare(p)))
# several takes of one song are on one side
songs = sorted({json.dumps([d[0]['from'], d[0]['passages'], d[0]['name']]) for d in data}); rng.shuffle(songs)
kept = set(songs[:max(4, len(songs) // 10)])
apart = lambda d: json.dumps([d[0]['from'], d[0]['passages'], d[0]['name']]) in kept
test, train = [d for d in data if apart(d)], [d for d in data if not apart(d)]
inputs = train[0][1].shape[1]
allx = np.vstack([d[1] for d in train]); mean, std = allx.mean(0), allx.std(0) + 0.05; del allx
print(len(train), 'pieces', int(sum(len(d[1]) for d in train) * STEP), 's', inputs, 'inputs', SIZE, flush=True)
class Net(torch.nn.Module):
    def __init__(self):
        super().__init__(); self.g = torch.nn.GRU(inputs, SIZE, batch_first=True); self.o = torch.nn.Linear(SIZE, 6)
    def forward(self, x): return self.o(torch.nn.functional.dropout(self.g(x)[0], 0.25, self.training))
net = Net()
if os.environ.get('RESUME'): net.load_state_dict(torch.load(os.environ['RESUME']))
def export():
    def q(a):
        a = np.asarray(a, float); s = float(np.abs(a).max()) / 8191 or 1.0
        return {'scale': s, 'values': np.round(a / s).astype(int).ravel().tolist()}
    g = net.g; v = lambda a: a.detach().numpy()
    wi = v(g.weight_ih_l0) / std; bi = v(g.bias_ih_l0) - wi @ mean
    cells = [{'inputs': inputs, 'size': SIZE, 'inputWeights': q(wi), 'stateWeights': q(v(g.weight_hh_l0)), 'inputBias': q(bi), 'stateBias': q(v(g.bias_hh_l0))}]
    json.dump({'cells': cells, 'outputs': 6, 'outWeights': q(v(net.o.weight)), 'outBias': q(v(net.o.bias))}, open(out, 'w'), separators=(',', ':'))
    torch.save(net.state_dict(), out + '.pt')
def told():
    net.eval()
    with torch.no_grad():
        per = []
        for p, x, t, w in test:
            y = net(torch.from_numpy(((x[None] - mean) / std).astype(np.float32)))[0]
            per.append((bce(y, torch.from_numpy(t)) * torch.from_numpy(w)).mean(0).numpy())
    print('held-out loss', np.round(np.mean(per, 0), 4).tolist(), flush=True); net.train()

opt = torch.optim.AdamW(net.parameters(), RATE, weight_decay=0.02); bce = torch.nn.BCEWithLogitsLoss(reduction='none')
weight = np.array([len(d[1]) * (1 if d[0]['passages'] else 0.7) for d in train], float); weight /= weight.sum()
start = time.process_time(); steps = 0; running = 0
while True:
    share = (time.process_time() - start) / (minutes * 60)
    if share >= 1: break
    for group in opt.param_groups: group['lr'] = RATE * min(1, steps / 50) * (0.02 + 0.98 * 0.5 * (1 + np.cos(np.pi * share)))
    xs, ts, ws = [], [], []
    while len(xs) < BATCH:
        _, x, t, w = train[rng.choice(len(train), p=weight)]
        # the same at another tempo: every frame a little longer or shorter
        speed = np.exp(rng.uniform(-0.15, 0.15)); need = int(CHUNK * speed) + 2
        if len(x) < need: continue
        a = 0 if rng.random() < 0.2 else int(rng.integers(0, len(x) - need))
        k = a + (np.arange(CHUNK) * speed).astype(int)
        x, t, w = x[k], t[k], w[k].copy()
        if a > 0: w[:WARM] = 0
        xs.append(x); ts.append(t); ws.append(w)
    x = torch.from_numpy(((np.stack(xs) - mean) / std).astype(np.float32)); t = torch.from_numpy(np.stack(ts)); w = torch.from_numpy(np.stack(ws))
    y = net(x + 0.25 * torch.randn_like(x))
    loss = (bce(y, t) * w).mean((0, 1)).sum()
    opt.zero_grad(); loss.backward(); torch.nn.utils.clip_grad_norm_(net.parameters(), 1.0); opt.step(); steps += 1
    running = loss.item() if steps == 1 else 0.98 * running + 0.02 * loss.item()
    if steps % 100 == 0: export(); print(steps, round(time.process_time() - start), round(running, 4), flush=True)
    if steps % 400 == 0: told()
export(); told()
