<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        Schema::create('lookup_answers', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('source_id')->constrained()->cascadeOnDelete();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            // Of what is asked and with which values.
            $table->binary('mark', 16, true);
            $table->unsignedSmallInteger('page');
            $table->unsignedSmallInteger('status');
            $table->text('headers');
            $table->binary('body');
            $table->dateTime('asked_at', 6);
            $table->dateTime('until')->index();
            $table->unique(['source_id', 'environment_id', 'mark', 'page']);
        });
        Schema::table('runs', static function (Blueprint $table): void {
            // Rows asked for, known, failed and so on, where it is one request for each row of a table.
            $table->json('lookup')->nullable();
            // From when on an answer counts as known.
            $table->dateTime('known_since', 6)->nullable();
        });
        Schema::table('kept_tables', static function (Blueprint $table): void {
            // The table whose rows it was asked for.
            $table->string('rows_of', 200)->nullable();
        });
        Schema::getConnection()->statement('ALTER TABLE lookup_answers MODIFY body MEDIUMBLOB NOT NULL');
    }
};
