"""Servos in C."""

from __future__ import annotations

from .c_names import compare, put
from .planned import ProgramPlan, ServoProgram
from .words import c_comment


def _servo_code(s: ServoProgram) -> str:
    register, control, bit = compare(s.pin)
    up = s.slug.upper()
    return f"""/* ---- {c_comment(s.name)} ---- */

static int16_t {s.slug}_place = -1; /* of 1000; below 0: no pulses */
static uint16_t {s.slug}_for;       /* ms since it was sent there */
static bool {s.slug}_by_port;       /* its silence ends that */

static void {s.slug}_go(int16_t place)
{{
    {s.slug}_place = place;
    {s.slug}_for = 0;
    if (place < 0) {{
        {control} &= ~_BV({bit});
        {put(s.pin, "0")}
        return;
    }}
    {register} = {up}_LOW + (uint16_t)((uint32_t)place * ({up}_HIGH - {up}_LOW) / 1000);
    {control} |= _BV({bit});
}}

"""


def _servo_parts(plan: ProgramPlan) -> dict[str, str]:
    if not plan.servos:
        return {"servo_answer": "", "servo_stop": "", "servo_branch": ""}
    cases = "".join(
        f"""    case {s.number}:
        place = {s.slug}_place;
        move = {s.slug}_go;
        by_port = &{s.slug}_by_port;
        break;
"""
        for s in plan.servos
    )
    made = f"""
static bool servo(const char *word, int32_t number, int32_t x, char *reply, size_t size)
{{
    int16_t place;
    void (*move)(int16_t);
    bool *by_port;
    switch (number) {{
{cases}    default:
        return false;
    }}
    if (!strcmp(word, "status"))
        snprintf(reply, size, "ok status %d %s %d 0 0 0", (int)number + shift, place < 0 ? "off" : "on",
                 place < 0 ? 0 : place);
    else if (strcmp(word, "duty"))
        strcpy(reply, "no servo");
    else if (proving)
        strcpy(reply, "no output");
    else if (x < 0 || x > 1000)
        strcpy(reply, "no range");
    else {{
        move((int16_t)x);
        *by_port = true;
        strcpy(reply, "ok duty");
    }}
    return true;
}}
"""
    stop = "".join(f"\n        {s.slug}_go(-1);" for s in plan.servos)
    branch = (
        "\n        if (servo(text, x[1] - shift, x[2], reply, sizeof reply)) "
        "{\n            say(reply);\n            return;\n        }"
    )
    return {"servo_answer": made, "servo_stop": stop, "servo_branch": branch}


def _servo_silent(plan: ProgramPlan) -> str:
    if not plan.servos:
        return ""
    return "".join(
        f"""
    {s.slug}_for += {s.slug}_for < 60000;
    if (silent && {s.slug}_by_port && {s.slug}_place >= 0)
        {s.slug}_go(-1);"""
        for s in plan.servos
    )
