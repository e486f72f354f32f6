"""Writes the OpenAPI document without a database, for the generated client."""

import json

from sqlalchemy import create_engine

from kumpan.main import create_app


def openapi_text() -> str:
    """The OpenAPI document as stable JSON text."""
    app = create_app(create_engine("mariadb+pymysql://nobody@localhost/none"))
    return json.dumps(app.openapi(), indent=1, ensure_ascii=False) + "\n"
