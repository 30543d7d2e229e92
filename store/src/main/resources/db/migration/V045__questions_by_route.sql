-- What a playbook asks may go by a route, as what is asked for does: with the same stages, and whoever is asked at them.
create table question_stage like request_stage;
create table question_approver like request_approver;
