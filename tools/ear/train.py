"""Trains the ear's networks: python3 tools/ear/train.py FOLDER song|live OUT.bin [STEPS]

FOLDER is what export.ts wrote. Needs Debian's python3-torch; neither the product nor its tests do. The last pieces of FOLDER
(a twelfth) are kept for watching. OUT.bin is the row of weights that src/core/music/network.ts reads, 16-bit floats, in the
order of `layers()` below.
"""
import copy, glob, json, math, random, struct, sys, time
import numpy as np
import torch
from torch import nn
import torch.nn.functional as F

BANDS, HARMONY, FPS = 64, 8, 50
CHANNELS, BLOCKS, KERNEL = 20, 9, 5
SEED = 7
folder, kind, out = sys.argv[1:4]
STEPS = int(sys.argv[4]) if len(sys.argv) > 4 else 3000
BATCH, LENGTH = 8, 30 * FPS
causal = kind == "live"
torch.manual_seed(SEED); random.seed(SEED); np.random.seed(SEED)
torch.set_num_threads(1)


class Net(nn.Module):
    def __init__(self):
        super().__init__()
        self.a = nn.Conv2d(1, 8, (3, 3))
        self.b = nn.Conv2d(8, 8, (3, 3))
        self.c = nn.Conv2d(8, CHANNELS, (1, 6))
        self.h = nn.Conv1d(HARMONY, CHANNELS, 1, bias=False)
        self.wide = nn.ModuleList([nn.Conv1d(CHANNELS, CHANNELS, KERNEL, dilation=2**i) for i in range(BLOCKS)])
        self.thin = nn.ModuleList([nn.Conv1d(CHANNELS, CHANNELS, 1) for _ in range(BLOCKS)])
        self.out = nn.Conv1d(CHANNELS, 3, 1)
        self.drop = nn.Dropout(0.1)

    def layers(self):
        yield from [self.a, self.b, self.c, self.h]
        for w, t in zip(self.wide, self.thin):
            yield from [w, t]
        yield self.out

    def forward(self, x, harmony):
        pad = (0, 0, 2, 0) if causal else (0, 0, 1, 1)
        y = F.max_pool2d(F.elu(self.a(F.pad(x[:, None], pad))), (1, 3))
        y = F.max_pool2d(F.elu(self.b(F.pad(y, pad))), (1, 3))
        y = self.c(y)[..., 0]
        y = self.drop(F.elu(y + self.h(harmony.transpose(1, 2))))
        for i, (w, t) in enumerate(zip(self.wide, self.thin)):
            reach = (KERNEL - 1) * 2**i
            z = F.pad(y, (reach, 0) if causal else (reach // 2, reach // 2))
            y = y + t(F.elu(w(z)))
        return self.out(F.elu(y))


class Piece:
    def __init__(self, file):
        rows = np.fromfile(file, dtype=np.float32).reshape(-1, BANDS + HARMONY).astype(np.float16)
        truth = json.load(open(file.rsplit(".", 1)[0] + ".json"))
        n = len(rows)
        self.mel, self.harmony = rows[:, :BANDS], rows[:, BANDS:]
        self.truth = truth

    def window(self, at, pace, most=LENGTH):
        """Up to `most` frames from frame `at` on, `pace` times as fast as they were played: mel, harmony, wanted, mask."""
        n = min(most, int((len(self.mel) - 1 - at) / pace))
        places = at + np.arange(n) * pace
        low = places.astype(int)
        share = (places - low).astype(np.float32)[:, None]
        rows = lambda list_: list_[low].astype(np.float32) * (1 - share) + list_[low + 1].astype(np.float32) * share
        frame = lambda seconds: (seconds * FPS - at) / pace
        want = np.zeros((3, n), np.float32)
        for k, times in enumerate([self.truth["beats"], self.truth["downbeats"]]):
            frames = np.round(frame(np.array(times))).astype(int)
            for off, value in ((-1, 0.5), (1, 0.5), (0, 1)):
                there = frames + off
                there = there[(there >= 0) & (there < n)]
                want[k, there] = np.maximum(want[k, there], value)
        for s in self.truth["sections"][1:]:
            f = int(round(frame(s["from"])))
            want[2, max(0, f - FPS // 2) : max(0, f + FPS // 2)] = 1
        mask = np.zeros(n, np.float32)
        a, b = frame(self.truth["beats"][0]), frame(self.truth["beats"][-1])
        mask[max(0, int(a) - 2) : max(0, int(b) + 3)] = 1
        return rows(self.mel), rows(self.harmony), want, mask


def augmented(mel):
    """Equaliser, gain, shift over bands, masks: inside the logarithm."""
    x = 10.0 ** mel.astype(np.float32) - 1
    points = np.random.uniform(-0.35, 0.35, 6)
    eq = np.interp(np.linspace(0, 5, BANDS), np.arange(6), points) + np.random.uniform(-0.3, 0.3)
    x = np.log10(1 + x * 10 ** eq[None, :])
    shift = np.random.randint(-3, 4)
    if shift > 0:
        x = np.concatenate([np.repeat(x[:, :1], shift, 1), x[:, :-shift]], 1)
    elif shift < 0:
        x = np.concatenate([x[:, -shift:], np.repeat(x[:, -1:], -shift, 1)], 1)
    if random.random() < 0.3:
        at, wide = random.randrange(BANDS - 8), random.randrange(2, 9)
        x[:, at : at + wide] = x[:, at : at + wide].mean()
    if random.random() < 0.2:
        at, long = random.randrange(len(x) - 60), random.randrange(10, 50)
        x[at : at + long] = x[at : at + long].min(0, keepdims=True)
    return x


def batch(pieces):
    xs, hs, ws, ms = [], [], [], []
    for piece in random.sample(pieces, BATCH):
        pace = random.uniform(0.86, 1.16) if random.random() < 0.6 else 1
        at = random.randrange(max(1, int(len(piece.mel) - 1 - LENGTH * pace)))
        mel, harmony, want, mask = piece.window(at, pace)
        mel = augmented(mel)
        if random.random() < 0.15:
            harmony = harmony * 0
        # A live ear knows nothing at the beginning: that is not held against it.
        short = LENGTH - len(mel)
        if short > 0:
            mel, harmony = np.pad(mel, ((0, short), (0, 0))), np.pad(harmony, ((0, short), (0, 0)))
            want, mask = np.pad(want, ((0, 0), (0, short))), np.pad(mask, (0, short))
        xs.append(mel), hs.append(harmony), ws.append(want), ms.append(mask)
    return [torch.from_numpy(np.stack(list_)).float() for list_ in (xs, hs, ws, ms)]


WEIGHTS = torch.tensor([1.0, 2.0, 0.3])[None, :, None]


def loss_of(net, xs, hs, ws, ms):
    each = F.binary_cross_entropy_with_logits(net(xs, hs), ws, reduction="none")
    return (each * WEIGHTS * ms[:, None]).sum() / ms.sum()


def watched(net, pieces):
    net.eval()
    total = 0
    with torch.no_grad():
        for p in pieces:
            total += loss_of(net, *[torch.from_numpy(a)[None] for a in p.window(0, 1, len(p.mel))]).item()
    net.train()
    return total / len(pieces)


def save(net):
    numbers = np.concatenate([p.detach().numpy().ravel() for layer in net.layers() for p in layer.parameters()])
    numbers.astype("<f2").tofile(out)
    return len(numbers)


files = sorted(glob.glob(f"{folder}/*.{kind}"))
pieces = [Piece(f) for f in files]
keep = max(1, len(pieces) // 12)
train, watch = pieces[:-keep], pieces[-keep:]
net = Net()
print(sum(p.numel() for p in net.parameters()), "weights,", len(train), "pieces", flush=True)
# What is kept is a running mean of the weights: it is steadier than the last of them.
mean = copy.deepcopy(net)
best, begun, done = math.inf, time.time(), 0
for rate, steps in ((3e-3, STEPS * 2 // 3), (2.5e-3, STEPS - STEPS * 2 // 3)):
    adam = torch.optim.Adam(net.parameters(), lr=rate)
    down = torch.optim.lr_scheduler.CosineAnnealingLR(adam, steps)
    sum_ = 0
    for step in range(1, steps + 1):
        loss = loss_of(net, *batch(train))
        adam.zero_grad()
        loss.backward()
        nn.utils.clip_grad_norm_(net.parameters(), 1)
        adam.step(), down.step()
        done += 1
        keep_ = min(0.998, 1 - 1 / done)
        with torch.no_grad():
            for m, p in zip(mean.parameters(), net.parameters()):
                m.mul_(keep_).add_(p, alpha=1 - keep_)
        sum_ += loss.item()
        if step % 100 == 0 or step == steps:
            now = watched(mean, watch)
            print(f"{time.time() - begun:.0f} s, step {step}: {sum_ / (step % 100 or 100):.4f}, watched {now:.4f}", flush=True)
            sum_ = 0
            if now < best:
                best = now
                save(mean)
print("best", best, flush=True)
