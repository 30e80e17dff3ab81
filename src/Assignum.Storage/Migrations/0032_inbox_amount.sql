-- Takes away a column that was never filled: what a received event comes to is the total of the event that it became.

alter table inbox drop column amount;
