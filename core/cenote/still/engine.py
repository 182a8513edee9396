"""The engine's process: what is to be traced, in the words of the path tracer ``pyluxcore``.

    python -m cenote.still.engine PIPE < messages

It holds nothing but a picture, and ends with its asker. That library takes the process with it when it ends, so that it is left without ceremony.
"""

from __future__ import annotations

import os
import sys
import tempfile
from collections.abc import Mapping
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image

from ..colour import linear_of
from ..derive.foam import FOAM_COLOUR, Foamed
from ..finish.masks import MEASURED_KINDS
from ..geometry.camera import Camera
from .scene import (
    LIGHT_GROUPS,
    MOST_TINT,
    TUBE,
    WATER_THING,
    Copies,
    LampLight,
    LensBlur,
    Piece,
    Skin,
    Thing,
    TracedScene,
    WaterBody,
)
from .tracing import Picture, receive, send

# The library, once this is a process of its own: it takes down at its end whoever has imported it.
lux: Any = None
_GAMMA = 2.2
# Light goes on for so many turns; brighter than so many times white, what comes by chance is held back.
_DEPTH, _MATTE, _BRIGHTEST = 10, 5, 30.0
# Of what thin things send back and let through: how much is let through, and its colour.
_THROUGH, _THROUGH_COLOUR = 0.45, np.array([1.05, 1.1, 0.55])
# What all that is no metal mirrors, as seen from above; metalness below which there is none, of 255.
_GLOSS, _METAL = 0.04, 8
# The refractive index of water, how much light a drop lets through to what lies below it, and how rough it is: on what is quite smooth the sun would leave no glint.
_WATER, _LETS, _RIPPLED = 1.333, 0.94, 0.03
# How high foam lies above its water, metres.
_FLOATS = 0.002
_POWER = (4 * np.pi) ** 2
_CHANNELS = {"albedo": ("ALBEDO", 3), "normal": ("AVG_SHADING_NORMAL", 3), "alpha": ("ALPHA", 1), "depth": ("DEPTH", 1),
             "kinds": ("MATERIAL_ID_COLOR", 3), "emission": ("EMISSION", 3)}  # fmt: skip
# Direct light is that which what is matt sends on, and what is not.
_DIRECT = ("DIRECT_DIFFUSE", "DIRECT_GLOSSY")
# Of the number of a material the lowest bytes tell the kinds that are measured, a byte each: the engine has means of them. The rest counts things.
_KIND_BITS = {kind: 0xFF << 8 * row for row, kind in enumerate(MEASURED_KINDS)}
_FIRST_BIT = 8 * len(MEASURED_KINDS)

Settings = dict[str, Any]


def _properties(settings: Mapping[str, Any]) -> Any:
    found = lux.Properties()
    for name, value in settings.items():
        found.Set(lux.Property(name, _plain(value)))
    return found


def _plain(value: Any) -> list[Any]:
    """A value as a list of numbers and words of Python's own."""
    many = value.ravel() if isinstance(value, np.ndarray) else value if isinstance(value, (list, tuple)) else [value]
    return [one.item() if isinstance(one, np.generic) else one for one in many]


def _rows(values: np.ndarray | None) -> list[tuple[Any, ...]] | None:
    return None if values is None else list(map(tuple, values.tolist()))


def _columns(matrix: np.ndarray) -> np.ndarray:
    """A matrix as the engine wants it, one column after another."""
    return np.ascontiguousarray(matrix.T).ravel()


class Builder:
    """Puts a scene into the engine's."""

    def __init__(self, folder: Path) -> None:
        self.scene = lux.Scene()
        self.folder = folder
        self.count = 0
        # Skins by what they look like, and the materials that were made of them.
        self.looks: dict[str, Settings] = {}
        self.made: set[str] = set()

    def build(self, traced: TracedScene, picture: Picture) -> Any:
        """All of it; returns the engine's scene."""
        self.look_from(traced.camera, traced.blur, picture)
        self.numbers, self.skins = {thing: number for number, thing in enumerate(traced.things)}, traced.skins
        for number, piece in enumerate(traced.pieces):
            self._piece(f"p{number}", piece, self._material(piece.skin, piece.thing, False))
        for number, copies in enumerate(traced.copies):
            self._copies(f"c{number}", copies)
        self._sky(traced)
        for number, lamp in enumerate(traced.lamps):
            self._lamp(f"l{number}", lamp)
        for number, water in enumerate(traced.waters):
            self._water(f"w{number}", water)
        return self.scene

    def _set(self, settings: Settings) -> None:
        self.scene.Parse(_properties(settings))

    def look_from(self, camera: Camera, blur: LensBlur, picture: Picture) -> None:
        """Set the camera."""
        # The engine's picture lies a row too high.
        row = 2 * camera.height / picture.height
        low = camera.shift - camera.height - row
        settings: Settings = {
            "type": "perspective", "fieldofview": 90, "autofocus.enable": 0,
            "lookat.orig": camera.eye, "lookat.target": camera.eye + camera.ahead, "up": camera.up,
            "screenwindow": [-camera.width, camera.width, low, low + 2 * camera.height],
            "cliphither": 0.01, "clipyon": 1e5,
            "lensradius": blur.radius, "focaldistance": blur.focus,
        }  # fmt: skip
        self._set({f"scene.camera.{name}": value for name, value in settings.items()})

    def _file(self, pixels: np.ndarray) -> str:
        self.count += 1
        path = self.folder / f"{self.count}.tiff"
        Image.fromarray(np.ascontiguousarray(pixels)).save(path)
        return str(path)

    def _picture(self, name: str, pixels: np.ndarray, channel: str = "default", gamma: float = 1.0) -> str:
        return self._texture(name, self._file(pixels), channel, gamma)

    def _texture(self, name: str, file: str, channel: str = "default", gamma: float = 1.0) -> str:
        texture = {"type": "imagemap", "file": file, "gamma": gamma, "channel": channel}
        self._set({f"scene.textures.{name}.{key}": value for key, value in texture.items()})
        return name

    def _times(self, name: str, one: Any, other: Any) -> str:
        texture = {"type": "scale", "texture1": one, "texture2": other}
        self._set({f"scene.textures.{name}.{key}": value for key, value in texture.items()})
        return name

    def _material(self, of: str, thing: Thing, tinted: bool) -> str:
        """The name of what a thing is made of. :param of: its skin. :param tinted: whether it takes the tint of each copy, too."""
        look = f"{of} of copies" if tinted else of
        name = f"{look}, {self.numbers[thing]}"
        if look not in self.looks:
            self.looks[look] = self._look(look, self.skins[of], tinted)
        if name not in self.made:
            self.made.add(name)
            settings = self.looks[look] | {"id": self._number(thing)}
            self._set({f"scene.materials.{name}.{key}": value for key, value in settings.items()})
        return name

    def _number(self, thing: Thing) -> int:
        return self.numbers[thing] << _FIRST_BIT | _KIND_BITS.get(thing.kind, 0)

    def _look(self, name: str, skin: Skin, tinted: bool) -> Settings:
        """A skin as a material; its pictures are shared by all things that have it."""
        if skin.clear:
            # What lies below a drop is lit through it: else no light of the sun would reach it.
            return {"type": "roughglass", "kr": np.ones(3), "kt": np.ones(3), "interiorior": _WATER, "uroughness": _RIPPLED, "vroughness": _RIPPLED,
                    "transparency.shadow": np.full(3, _LETS)}  # fmt: skip
        colour: Any = self._hit()
        if skin.base is not None:
            colour = self._times(
                f"{name} colour", self._picture(f"{name} base", _encoded(skin.base[..., :3]), gamma=_GAMMA), colour
            )
        if tinted:
            colour = self._times(f"{name} tinted", colour, self._tint())
        if skin.thin:
            back = self._times(f"{name} back", colour, np.full(3, 1 - _THROUGH))
            through = self._times(f"{name} through", colour, _THROUGH * _THROUGH_COLOUR)
            settings: Settings = {"type": "mattetranslucent", "kr": back, "kt": through}
        else:
            settings = self._solid(name, skin, colour)
        if skin.normal is not None:
            settings["normaltex"] = self._picture(f"{name} normal", skin.normal[..., :3])
        if skin.base is not None and skin.base.shape[2] == 4:
            cut = np.where(skin.base[..., 3] > 127, 255, 0).astype(np.uint8)
            settings["transparency"] = self._picture(f"{name} outline", np.dstack([cut] * 3), "mean")
        if skin.glow > 0:
            settings |= {"emission": colour, "emission.gain": np.full(3, skin.glow), "emission.power": 0.0,
                         "emission.id": LIGHT_GROUPS.index("glow")}  # fmt: skip
        return settings

    def _solid(self, name: str, skin: Skin, colour: str) -> Settings:
        """What is not thin: colour under a gloss of four per cent, and metal where it is that."""
        rough: Any = skin.roughness**2
        file = None if skin.orm is None else self._file(skin.orm[..., :3])
        if file:
            # The engine wants the width of the gloss, which is the square of what is called roughness.
            given = self._texture(f"{name} roughness", file, "green")
            rough = self._times(f"{name} width", given, given)
        gloss: Settings = {
            "type": "glossy2",
            "kd": colour,
            "ks": np.full(3, _GLOSS),
            "uroughness": rough,
            "vroughness": rough,
        }
        if skin.orm is None or skin.orm[..., 2].max() < _METAL:
            return gloss
        self._set(
            {f"scene.textures.{name} mirrored.type": "fresnelcolor", f"scene.textures.{name} mirrored.kr": colour}
        )
        metal: Settings = {"type": "metal2", "fresnel": f"{name} mirrored", "uroughness": rough, "vroughness": rough}
        for part, made in (("gloss", gloss), ("metal", metal)):
            self._set({f"scene.materials.{name} {part}.{key}": value for key, value in made.items()})
        share = self._texture(f"{name} metalness", file, "blue") if file else 0.0
        return {"type": "mix", "material1": f"{name} gloss", "material2": f"{name} metal", "amount": share}

    def _hit(self) -> str:
        self._set({"scene.textures.corner colour.type": "hitpointcolor"})
        return "corner colour"

    def _tint(self) -> str:
        self._set({"scene.textures.copy.type": "objectidcolor"})
        return self._times("tint of a copy", "copy", np.full(3, MOST_TINT))

    def _shape(self, name: str, piece: Piece) -> None:
        colours = np.ones((len(piece.positions), 3), np.float32) if piece.colours is None else piece.colours
        self.scene.DefineMesh(
            name, _rows(piece.positions), _rows(piece.faces), _rows(piece.normals), _rows(piece.uv), _rows(colours), None
        )  # fmt: skip

    def _piece(self, name: str, piece: Piece, material: str) -> None:
        self._shape(name, piece)
        self._set({f"scene.objects.{name}.shape": name, f"scene.objects.{name}.material": material,
                   f"scene.objects.{name}.camerainvisible": not piece.seen})  # fmt: skip

    def _copies(self, name: str, copies: Copies) -> None:
        levels = np.round(np.clip(copies.tints / MOST_TINT, 0, 1) * 255).astype(np.uint32)
        ids = levels[:, 0] | levels[:, 1] << 8 | levels[:, 2] << 16
        matrices = np.ascontiguousarray(copies.matrices.transpose(0, 2, 1), np.float32)
        for number, piece in enumerate(copies.pieces):
            own = f"{name}p{number}"
            self._shape(own, piece)
            self._set({
                f"scene.objects.{own}.shape": own, f"scene.objects.{own}.material": self._material(piece.skin, piece.thing, True),
                f"scene.objects.{own}.id": int(ids[0]), f"scene.objects.{own}.transformation": matrices[0].ravel(),
            })  # fmt: skip
            if len(ids) > 1:
                self.scene.DuplicateObject(
                    own, f"{own}d", len(ids) - 1, matrices[1:].ravel(), np.ascontiguousarray(ids[1:])
                )

    def _sky(self, traced: TracedScene) -> None:
        # The engine's panoramas have their pole along Z, and turn the other way round.
        pixels = np.ascontiguousarray(traced.sky[:, ::-1], np.float32)
        self.scene.DefineImageMap("sky", pixels, 1.0, 3, pixels.shape[1], pixels.shape[0])
        turn = np.array([[0, -1, 0, 0], [0, 0, 1, 0], [-1, 0, 0, 0], [0, 0, 0, 1]], float)
        settings: Settings = {"type": "infinite", "file": "sky", "gamma": 1.0, "transformation": _columns(turn),
                              "id": LIGHT_GROUPS.index("sky")}  # fmt: skip
        self._set({f"scene.lights.sky.{key}": value for key, value in settings.items()})
        sun = traced.sun
        if sun is not None and sun.light.max() > 0:
            settings = {"type": "distant", "direction": -sun.towards, "theta": np.degrees(sun.radius),
                        "color": sun.light / (np.pi * np.sin(sun.radius) ** 2), "id": LIGHT_GROUPS.index("sun")}  # fmt: skip
            self._set({f"scene.lights.sun.{key}": value for key, value in settings.items()})

    def _lamp(self, name: str, lamp: LampLight) -> None:
        group = LIGHT_GROUPS.index("lamps")
        if lamp.sent is not None:
            rows, columns = lamp.sent.shape[:2]
            self.scene.DefineImageMap(name, np.ascontiguousarray(lamp.sent, np.float32), 1.0, 3, columns, rows)
            # What it sends in all is told apart from its shape.
            ring = np.sin((np.arange(rows) + 0.5) / rows * np.pi)[:, None, None]
            mean = float((lamp.sent * ring).mean() / ring.mean())
            frame = lamp.pose @ np.array([[0, 1, 0, 0], [-1, 0, 0, 0], [0, 0, 1, 0], [0, 0, 0, 1]], float)
            settings: Settings = {
                "type": "mappoint", "mapfile": name, "gamma": 1.0, "power": 0.0, "efficency": 0.0, "position": np.zeros(3),
                "transformation": _columns(frame), "gain": np.full(3, mean * _POWER), "id": group,
            }  # fmt: skip
            self._set({f"scene.lights.{name}.{key}": value for key, value in settings.items()})
            return
        shining = _quad(lamp) if lamp.wide > 0 else _tube(lamp)
        piece = replace(
            shining,
            positions=shining.positions @ lamp.pose[:3, :3].T + lamp.pose[:3, 3],
            normals=shining.normals @ lamp.pose[:3, :3].T,
        )
        self._set({f"scene.materials.{name}.type": "matte", f"scene.materials.{name}.kd": np.zeros(3),
                   f"scene.materials.{name}.emission": lamp.radiance, f"scene.materials.{name}.emission.power": 0.0,
                   f"scene.materials.{name}.emission.id": group, f"scene.materials.{name}.id": _KIND_BITS["structures"]})  # fmt: skip
        self._shape(name, piece)
        self._set({f"scene.objects.{name}.shape": name, f"scene.objects.{name}.material": name})

    def _water(self, name: str, water: WaterBody) -> None:
        # What deep water sends back, of light that is scattered again and again (Kubelka and Munk, 1931).
        back = np.clip(water.colour, 0.001, 0.9)
        ratio = (1 - back) ** 2 / (2 * back)
        scattered = 1 / (1 + ratio) / water.clarity
        body: Settings = {"type": "homogeneous", "scattering": scattered, "absorption": 1 / water.clarity - scattered, "asymmetry": np.zeros(3),
                          "multiscattering": 1, "ior": 1.33}  # fmt: skip
        self._set({f"scene.volumes.{name} body.{key}": value for key, value in body.items()})
        settings: Settings = {
            "type": "archglass",
            "kr": np.ones(3),
            "kt": np.ones(3),
            "interiorior": 1.33,
            "volume.interior": f"{name} body",
        }
        if water.ripple > 0:
            ripple = {"type": "fbm", "octaves": 4, "roughness": 0.6, "mapping.type": "globalmapping3d",
                      "mapping.transformation": _columns(np.diag([3.0, 3.0, 3.0, 1.0]))}  # fmt: skip
            self._set({f"scene.textures.{name} ripple.{key}": value for key, value in ripple.items()})
            settings["bumptex"] = self._times(f"{name} ripples", f"{name} ripple", water.ripple)
        settings["id"] = self._number(WATER_THING)
        self._set({f"scene.materials.{name}.{key}": value for key, value in settings.items()})
        corners = np.column_stack([water.outline[:, 0], np.full(len(water.outline), water.level), water.outline[:, 1]])
        up = (
            np.cross(
                corners[water.faces[:, 1]] - corners[water.faces[:, 0]],
                corners[water.faces[:, 2]] - corners[water.faces[:, 0]],
            )[:, 1]
            > 0
        )
        faces = np.where(up[:, None], water.faces, water.faces[:, ::-1])
        self._piece(name, Piece("", corners, np.tile([0.0, 1.0, 0.0], (len(corners), 1)), faces), name)
        if water.foam is not None and water.foam.cover.size and water.foams > 0:
            self._foam(f"{name} foam", water.level + _FLOATS, water.foam, water.foams)

    def _foam(self, name: str, level: float, foam: Foamed, share: float) -> None:
        covered = self._picture(f"{name} cover", np.dstack([np.round(foam.cover * share).astype(np.uint8)] * 3), "mean")
        settings: Settings = {
            "type": "matte", "kd": np.asarray(FOAM_COLOUR), "transparency": covered, "id": self._number(WATER_THING)
        }  # fmt: skip
        self._set({f"scene.materials.{name}.{key}": value for key, value in settings.items()})
        low, high = foam.low, foam.low + np.array(foam.cover.shape[::-1]) * foam.cell
        x, z = np.array([low[0], low[0], high[0], high[0]]), np.array([low[1], high[1], high[1], low[1]])
        corners, uv = np.column_stack([x, np.full(4, level), z]), np.array([[0, 0], [0, 1], [1, 1], [1, 0]], np.float32)
        faces = np.array([[0, 1, 2], [0, 2, 3]])
        self._piece(name, Piece("", corners, np.tile([0.0, 1.0, 0.0], (4, 1)), faces, uv), name)


def _encoded(colours: np.ndarray) -> np.ndarray:
    """sRGB bytes in the engine's own curve."""
    return np.round(linear_of(np.arange(256) / 255) ** (1 / _GAMMA) * 255).astype(np.uint8)[colours]


def _quad(lamp: LampLight) -> Piece:
    x, z = lamp.wide / 2, lamp.long / 2
    corners = np.array([[-x, 0, -z], [x, 0, -z], [x, 0, z], [-x, 0, z]])
    return Piece("", corners, np.tile([0.0, -1.0, 0.0], (4, 1)), np.array([[0, 1, 2], [0, 2, 3]]))


def _tube(lamp: LampLight, sides: int = 12) -> Piece:
    turn = np.arange(sides) / sides * 2 * np.pi
    ring = np.column_stack([np.zeros(sides), np.cos(turn), np.sin(turn)])
    ends = [ring * TUBE + [side * lamp.long / 2, 0, 0] for side in (-1, 1)]
    here, there = np.arange(sides), (np.arange(sides) + 1) % sides
    faces = np.concatenate(
        [np.column_stack([here, there, there + sides]), np.column_stack([here, there + sides, here + sides])]
    )
    return Piece("", np.concatenate(ends), np.concatenate([ring, ring]), faces)


class Tracing:
    """A picture that the engine traces."""

    def __init__(self, traced: TracedScene, picture: Picture, folder: Path) -> None:
        self.picture = picture
        self.builder = Builder(folder)
        scene = self.builder.build(traced, picture)
        first, last, top, bottom = picture.window
        settings: Settings = {
            "renderengine.type": "PATHCPU", "renderengine.seed": picture.seed, "sampler.type": "SOBOL",
            "film.width": picture.width, "film.height": picture.height,
            # Rows are counted from below.
            "film.subregion": [first, last, picture.height - 1 - bottom, picture.height - 1 - top],
            "film.filter.type": "BLACKMANHARRIS", "film.filter.width": 1.5, "film.imagepipelines.0.0.type": "NOP",
            "path.pathdepth.total": _DEPTH, "path.pathdepth.diffuse": _MATTE, "path.pathdepth.glossy": _MATTE, "path.pathdepth.specular": _DEPTH,
            "path.clamping.variance.maxvalue": _BRIGHTEST, "lightstrategy.type": "LOG_POWER",
        }  # fmt: skip
        outputs: list[tuple[str, int | None]] = [
            (kind, None) for kind, _ in (*_CHANNELS.values(), ("MATERIAL_ID", 1), *((one, 3) for one in _DIRECT))
        ]
        outputs += [("RADIANCE_GROUP", group) for group in range(len(LIGHT_GROUPS))]
        for number, (kind, group) in enumerate(outputs):
            settings |= {
                f"film.outputs.{number}.type": kind,
                f"film.outputs.{number}.filename": f"{number}.{'png' if kind == 'MATERIAL_ID' else 'exr'}",
            }
            if group is not None:
                settings[f"film.outputs.{number}.id"] = group
        self.session = lux.RenderSession(lux.RenderConfig(_properties(settings), scene))
        self.session.Start()

    def samples(self) -> float:
        """Paths for each pixel."""
        self.session.UpdateStats()
        return float(self.session.GetStats().Get("stats.renderengine.pass").GetInt())

    def turn(self, camera: Camera, blur: LensBlur) -> None:
        """Look from elsewhere; the film begins anew."""
        self.session.BeginSceneEdit()
        self.builder.look_from(camera, blur, self.picture)
        self.session.EndSceneEdit()

    def look(self) -> tuple[float, dict[str, np.ndarray]]:
        """Paths for each pixel, and the channels, float32 (h, w, C) each, rows from the top."""
        samples, film = self.samples(), self.session.GetFilm()
        there = film.GetRadianceGroupCount()
        first, last, top, bottom = self.picture.window
        dark = np.zeros((bottom - top + 1, last - first + 1, 3), np.float32)
        found = {
            name: self._read(film, "RADIANCE_GROUP", 3, group) if group < there else dark
            for group, name in enumerate(LIGHT_GROUPS)
        }
        for name, (kind, width) in _CHANNELS.items():
            found[name] = self._read(film, kind, width)
        found["direct"] = np.asarray(sum(self._read(film, kind, 3) for kind in _DIRECT), np.float32)
        found["thing"], found["kinds"] = self._things(film), found["kinds"][..., : len(_KIND_BITS)]
        return samples, found

    def _things(self, film: Any) -> np.ndarray:
        """The number of the thing that is nearest in each pixel, float32 (h, w, 1); that of the ground where there is nothing."""
        out = np.zeros((film.GetHeight(), film.GetWidth(), 1), np.uint32)
        film.GetOutputUInt(lux.FilmOutputType.MATERIAL_ID, out, 0, False)
        numbers = np.where(out == np.iinfo(np.uint32).max, 0, out >> _FIRST_BIT)
        return self._cut(numbers.astype(np.float32))

    def _read(self, film: Any, kind: str, width: int, index: int = 0) -> np.ndarray:
        out = np.zeros((film.GetHeight(), film.GetWidth(), width), np.float32)
        film.GetOutputFloat(getattr(lux.FilmOutputType, kind), out, index, False)
        return self._cut(out)

    def _cut(self, out: np.ndarray) -> np.ndarray:
        """The window that is traced, rows from the top."""
        first, last, top, bottom = self.picture.window
        return np.ascontiguousarray(out[::-1][top : bottom + 1, first : last + 1])


def main() -> None:
    """Answer until nobody asks any more."""
    global lux
    import pyluxcore as lux

    answers = os.fdopen(int(sys.argv[1]), "wb")
    lux.Init(lambda _: None)
    questions = sys.stdin.buffer
    tracing: Tracing | None = None
    with tempfile.TemporaryDirectory(prefix="cenote-still-") as folder:
        while True:
            try:
                what, *arguments = receive(questions)
            except EOFError:
                break
            value: Any = None
            try:
                if what == "begin":
                    scene, picture = arguments
                    tracing = Tracing(scene, picture, Path(folder))
                else:
                    assert tracing
                    value = getattr(tracing, what)(*arguments)
            except (RuntimeError, MemoryError, OSError) as error:
                send(answers, ("refused", f"The engine that traces refuses this: {error}"))
                continue
            send(answers, ("done", value))


if __name__ == "__main__":
    main()
    os._exit(0)
