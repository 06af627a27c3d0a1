"""Teach the ink reader: the network whose weights `measure/ink_reader.py` works with.

    python -m tools.train_ink FOLDER_OF_FONTS [MINUTES [further]]

With «further» the network that is there learns on, from new pictures. Writes
`high_pair/data/ink-reader.npz`. It needs PyTorch, which the program does not: install
torch in an environment of its own. Pictures are made, none is fetched.
"""

from __future__ import annotations

import sys
import time
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import numpy as np
import torch
from torch import nn
from torch.nn import functional

from high_pair.measure.ink_reader import seen_by_network
from tools.ink_pictures import make

CHANNELS = (12, 24, 40, 48)
PICTURES, PART, BATCH = 26_000, 250, 16
HIGHEST_RATE, SEED = 4e-3, 1000
# For a network that learns on.
FURTHER_PICTURES, FURTHER_RATE, FURTHER_SEED = 40_000, 1.2e-3, 5000
OUT = Path(__file__).parent.parent / "high_pair" / "data" / "ink-reader.npz"


def block(before: int, after: int) -> nn.Sequential:
    """Two convolutions of three by three, each normalised over the batch."""
    layers: list[nn.Module] = []
    for channels in (before, after):
        layers += [nn.Conv2d(channels, after, 3, padding=1), nn.BatchNorm2d(after), nn.ReLU()]
    return nn.Sequential(*layers)


class InkNetwork(nn.Module):
    """A pyramid: down by halves, and up again beside what was seen on the way."""

    def __init__(self) -> None:
        super().__init__()
        self.down = nn.ModuleList(
            block(before, after) for before, after in zip((3, *CHANNELS), CHANNELS, strict=False)
        )
        self.up = nn.ModuleList(
            block(CHANNELS[level + 1] + CHANNELS[level], CHANNELS[level])
            for level in reversed(range(len(CHANNELS) - 1))
        )
        self.last = nn.Conv2d(CHANNELS[0], 1, 1)

    def forward(self, pictures: torch.Tensor) -> torch.Tensor:
        """Give the logits of the shares of ink."""
        seen: list[torch.Tensor] = []
        now = pictures
        for level, layers in enumerate(self.down):
            now = layers(functional.avg_pool2d(now, 2) if level else now)
            seen.append(now)
        for level, layers in zip(reversed(range(len(CHANNELS) - 1)), self.up, strict=True):
            now = layers(torch.cat([functional.interpolate(now, scale_factor=2), seen[level]], 1))
        return self.last(now)[:, 0]


def _part(task: tuple[int, list[str]]) -> tuple[np.ndarray, np.ndarray]:
    seed, fonts = task
    random = np.random.default_rng(seed)
    made = [make(random, fonts) for _ in range(PART)]
    return np.stack([one.pixels for one in made]), np.stack([one.ink for one in made])


def pictures(fonts: list[str], count: int, seed: int) -> tuple[np.ndarray, np.ndarray]:
    """Make the pictures to learn from: uint8 (n, h, w, 3) and (n, h, w)."""
    with ProcessPoolExecutor() as pool:
        parts = list(pool.map(_part, [(seed + n, fonts) for n in range(count // PART)]))
    return np.concatenate([part[0] for part in parts]), np.concatenate([part[1] for part in parts])


def prepared(pixels: np.ndarray) -> np.ndarray:
    """Give what the network sees of a batch: float32 (n, 3, h, w), as the reader makes it."""
    return np.stack([seen_by_network(one) for one in pixels])


def exported(network: InkNetwork) -> dict[str, np.ndarray]:
    """Give the weights, the batches' normalisation worked into the convolutions."""
    weights: dict[str, np.ndarray] = {}
    blocks = [*network.down, *network.up]
    for number, layers in enumerate(blocks):
        for place in (0, 3):
            convolution, normal = layers[place], layers[place + 1]
            factor = normal.weight / torch.sqrt(normal.running_var + normal.eps)
            kernel = convolution.weight * factor[:, None, None, None]
            shift = (convolution.bias - normal.running_mean) * factor + normal.bias
            name = f"{number}.{place // 3}"
            weights[f"{name}.kernel"] = kernel.detach().numpy().astype(np.float16)
            weights[f"{name}.shift"] = shift.detach().numpy().astype(np.float16)
    weights["last.kernel"] = network.last.weight.detach().numpy().astype(np.float16)
    weights["last.shift"] = network.last.bias.detach().numpy().astype(np.float16)
    return weights


def kept() -> InkNetwork:
    """Give the network that is there; its batches' normalisation is part of its convolutions."""
    network = InkNetwork()
    weights = np.load(OUT)

    def put(there: torch.Tensor, name: str) -> None:
        there.copy_(torch.from_numpy(weights[name].astype(np.float32)))

    with torch.no_grad():
        for number, layers in enumerate([*network.down, *network.up]):
            for place in (0, 3):
                convolution, normal = layers[place], layers[place + 1]
                put(convolution.weight, f"{number}.{place // 3}.kernel")
                put(convolution.bias, f"{number}.{place // 3}.shift")
                normal.running_mean.zero_()
                normal.running_var.fill_(1 - normal.eps)
        put(network.last.weight, "last.kernel")
        put(network.last.bias, "last.shift")
    # So that learning on doesn't normalise anew.
    return network.eval()


def train(
    network: InkNetwork, pixels: np.ndarray, ink: np.ndarray, minutes: float, highest: float
) -> InkNetwork:
    """Teach a network for so many minutes, one pass over the pictures after another."""
    random = np.random.default_rng(SEED)
    optimiser = torch.optim.AdamW(network.parameters(), lr=highest, weight_decay=1e-4)
    start, step, losses = time.monotonic(), 0, []
    order = random.permutation(len(pixels))
    place = 0
    while (spent := (time.monotonic() - start) / (60 * minutes)) < 1:
        rate = highest * min(1.0, step / 100) * 0.5 * (1 + np.cos(np.pi * spent))
        for group in optimiser.param_groups:
            group["lr"] = max(rate, 1e-5)
        if place + BATCH > len(order):
            order, place = random.permutation(len(pixels)), 0
        chosen = order[place : place + BATCH]
        place += BATCH
        batch = prepared(pixels[chosen])
        # Any of the three directions of colour may be the other way round.
        batch *= random.choice([-1.0, 1.0], (BATCH, 3, 1, 1)).astype(np.float32)
        wanted = torch.from_numpy(ink[chosen].astype(np.float32) / 255)
        given = network(torch.from_numpy(batch).contiguous(memory_format=torch.channels_last))
        loss = functional.binary_cross_entropy_with_logits(given, wanted)
        optimiser.zero_grad()
        loss.backward()
        optimiser.step()
        step += 1
        with torch.no_grad():
            losses.append(float(((torch.sigmoid(given) - wanted) ** 2).mean()))
        if step % 100 == 0:
            square = np.mean(losses[-100:])
            print(f"{step} steps, {spent:.0%}: mean square {square:.5f}", flush=True)
    return network.eval()


def main(folder: str, minutes: float, further: bool) -> None:
    """Make the pictures, teach, and write the weights."""
    fonts = sorted(str(path) for path in Path(folder).iterdir())
    torch.manual_seed(SEED)
    if further:
        made = pictures(fonts, FURTHER_PICTURES, FURTHER_SEED)
        network = train(kept(), *made, minutes, FURTHER_RATE)
    else:
        network = train(InkNetwork(), *pictures(fonts, PICTURES, SEED), minutes, HIGHEST_RATE)
    np.savez_compressed(OUT, **exported(network))


if __name__ == "__main__":
    main(sys.argv[1], float(sys.argv[2]) if len(sys.argv) > 2 else 40.0, "further" in sys.argv[3:])
