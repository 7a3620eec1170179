"""The upper body, front and back, and the face: drawn as in a looking-glass, so that her left stays on the left.

Coordinates are our own units, y downwards; the right half is given (x > 0) and mirrored for the left.
"""

from chirotend.drawing.shapes import Point, Shape, curve, path

HEAD: tuple[Point, ...] = ((0, 0), (13, 2.5), (22, 12), (24.5, 27), (22.5, 42), (17.5, 54), (9, 63.5), (0, 66.5))
ARM_OUT: tuple[Point, ...] = (
    (12.6, 58),
    (12.4, 70),
    (14.5, 79),
    (24, 86.5),
    (40, 92.5),
    (55, 97),
    (66.5, 105),
    (73, 119),
    (75.5, 138),
    (77.5, 160),
    (80.5, 178),
    (85, 191),
    (90, 206),
    (94.5, 226),
    (99, 248),
    (101.5, 268),
)
ARM_IN: tuple[Point, ...] = (
    (88.5, 270),
    (83.5, 250),
    (76, 228),
    (67.5, 208),
    (62.5, 192),
    (60, 176),
    (57, 158),
    (53.5, 143),
    (50.8, 134),
)
TORSO: tuple[Point, ...] = ((50.8, 134), (50.5, 150), (48, 172), (44.5, 196), (43, 216), (45.5, 240), (50, 268))

FRONT: dict[str, list[Point]] = {
    "neck_side": [(7, 66), (13, 70), (15, 79), (24, 86), (12, 91), (6, 82)],
    "throat": [(-7, 67), (7, 66), (6, 82), (12, 91), (0, 97), (-12, 91), (-6, 82)],
    "above_collarbone": [(12, 91), (24, 86), (40, 92), (38, 99), (20, 99), (4, 97)],
    "shoulder_tip": [(40, 92), (56, 97), (66, 104), (58, 111), (44, 103), (38, 99)],
    "shoulder_front": [(38, 99), (44, 103), (58, 111), (56, 127), (46, 129), (36, 114)],
    "shoulder_side": [(66, 104), (74, 116), (77, 134), (66, 136), (56, 127), (58, 111)],
    "armpit_edge": [(36, 114), (46, 129), (53, 136), (50, 152), (40, 146), (28, 128)],
    "arm_front": [(53, 136), (66, 136), (77, 134), (79, 160), (82, 175), (60, 177), (57, 158)],
    "elbow_crease": [(67, 176), (82, 175), (89, 196), (90, 204), (72, 204)],
    "elbow_inner": [(58, 177), (67, 176), (72, 204), (65, 204)],
}
BACK: dict[str, list[Point]] = {
    "skull_base": [(0, 48), (19, 48), (14, 62), (0, 64)],
    "neck_back": [(0, 64), (14, 62), (14.5, 79), (20, 85), (0, 90)],
    "shoulder_top": [(20, 85), (40, 92), (56, 97), (50, 105), (22, 103), (8, 92), (0, 90)],
    "shoulder_back": [(50, 105), (56, 97), (67, 105), (74, 119), (76, 135), (58, 135), (50, 122)],
    "blade": [(22, 103), (50, 105), (50, 122), (46, 142), (30, 147), (22, 128)],
    "blade_edge": [(8, 92), (22, 103), (22, 128), (28, 147), (8, 142)],
    "spine_upper": [(-8, 92), (0, 90), (8, 92), (8, 150), (-8, 150)],
    "low_back_side": [(8, 190), (47, 190), (43, 240), (8, 240)],
    "spine_low": [(-8, 190), (8, 190), (8, 246), (-8, 246)],
    "hip_seat": [(8, 240), (45, 240), (51, 268), (0, 268), (0, 246), (8, 246)],
    "arm_back": [(56, 135), (76, 135), (79, 160), (81, 174), (59, 175), (57, 158)],
    "elbow_groove": [(59, 176), (66, 176), (70, 192), (76, 206), (66, 206)],
    "elbow_point": [(66, 176), (75, 175), (79, 191), (70, 192)],
    "elbow_outer": [(75, 175), (82, 175), (92, 206), (76, 206), (70, 192), (79, 191)],
}
#: the face stands beside the body, larger, in its own units
FACE_OUTLINE: tuple[Point, ...] = ((0, 4), (30, 10), (46, 34), (48, 62), (42, 92), (28, 118), (0, 130))
FACE: dict[str, list[Point]] = {
    "jaw_joint": [(34, 54), (52, 54), (50, 78), (34, 76)],
    "cheek": [(18, 70), (34, 76), (48, 78), (42, 100), (24, 100), (18, 88)],
    "mouth_corner": [(13, 88), (24, 88), (24, 102), (13, 102)],
    "upper_lip": [(-13, 86), (13, 86), (13, 95), (-13, 95)],
    "lower_lip": [(-13, 95), (13, 95), (13, 106), (-13, 106)],
}
CENTRE = {"throat", "spine_upper", "spine_low", "upper_lip", "lower_lip"}


def mirrored(points: tuple[Point, ...] | list[Point]) -> list[Point]:
    return [(-x, y) for x, y in points]


def placed(points: list[Point] | tuple[Point, ...], scale: float, at: Point) -> list[Point]:
    return [(at[0] + x * scale, at[1] + y * scale) for x, y in points]


def body_outline(scale: float, at: Point) -> tuple[str, str]:
    """Return the path data of head and body."""
    head = [*HEAD, *mirrored(HEAD)[-2:0:-1]]
    half = [*ARM_OUT, *ARM_IN, *TORSO[1:]]
    return (curve(placed(head, scale, at), closed=True), curve(placed([*half, *mirrored(half)[::-1]], scale, at)) + "Z")


def body_lines(scale: float, at: Point, back: bool) -> list[Shape]:
    """Return outline and fine lines of the body, to be drawn above its zones."""
    fine: list[list[Point]] = (
        [[(0, 92), (0, 240)], [(10, 104), (30, 110), (46, 112)], [(22, 104), (22, 128), (30, 146)]]
        if back
        else [
            [(6, 97), (20, 95), (38, 96), (54, 101)],
            [(11.5, 66), (8, 78), (3.5, 92)],
            [(50.8, 134), (40, 142), (24, 147), (6, 145)],
            [(53, 134), (56.5, 124), (57, 114)],
            [(64, 193), (71, 197), (78, 196)],
        ]
    )
    shapes = [path(curve(placed(m(c), scale, at)), "crease") for c in fine for m in (list, mirrored)]
    shapes.append(path(body_outline(scale, at)[0], "outline"))
    shapes += [
        path(curve(placed(m(part), scale, at)), "outline")
        for part in (ARM_OUT[1:], ARM_IN, TORSO)
        for m in (list, mirrored)
    ]
    return shapes


def face_outline(scale: float, at: Point) -> str:
    return curve(placed([*FACE_OUTLINE, *mirrored(FACE_OUTLINE)[-2:0:-1]], scale, at), closed=True)


def face_lines(scale: float, at: Point) -> list[Shape]:
    fine: list[list[Point]] = [
        [(-24, 44), (-15, 41), (-7, 44)],
        [(7, 44), (15, 41), (24, 44)],
        [(-1, 52), (4, 72), (-4, 75)],
        [(-15, 95), (-5, 92), (0, 94), (5, 92), (15, 95)],
        [(-9, 100), (0, 104), (9, 100)],
    ]
    return [*(path(curve(placed(c, scale, at)), "crease") for c in fine), path(face_outline(scale, at), "outline")]
