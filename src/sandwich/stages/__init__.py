"""Stages: each computes one subject of a job; `order` names them all."""
