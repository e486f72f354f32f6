"""Writes the OpenAPI document, for the generated client, and the open format's schema; without a database."""

import json

from sqlalchemy import create_engine

from kumpan.actions.transfer.account_tables import AccountDocument
from kumpan.main import create_app


def account_schema_text() -> str:
    """The JSON Schema of the account's open format."""
    return json.dumps(AccountDocument.model_json_schema(), indent=1, ensure_ascii=False) + "\n"


def openapi_text() -> str:
    """The OpenAPI document as stable JSON text."""
    app = create_app(create_engine("mariadb+pymysql://nobody@localhost/none"))
    return json.dumps(app.openapi(), indent=1, ensure_ascii=False) + "\n"
