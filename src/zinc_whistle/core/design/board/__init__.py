"""A board of one's own on perforated board: places, joints, height."""

from .plan import BoardError, BoardPlan, JointOnBoard, OnBoard, board_plan, boards, hole_name

__all__ = ["BoardError", "BoardPlan", "JointOnBoard", "OnBoard", "board_plan", "boards", "hole_name"]
