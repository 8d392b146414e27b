<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        // What people say of a table: title, comment, owner.
        Schema::table('kept_tables', function (Blueprint $table): void {
            $table->json('texts')->nullable();
        });
        // Whether an input of what is published stands for a part of a query.
        Schema::table('endpoints', function (Blueprint $table): void {
            $table->boolean('stands')->default(false);
        });
        // Of a table of a query of which only what lies in a period is read anew: a column, and how far back.
        Schema::table('query_keeps', function (Blueprint $table): void {
            $table->json('period')->nullable();
        });
        // What statements gave, for the person who asked, until a table beneath changes.
        Schema::create('query_results', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('user_id')->constrained()->cascadeOnDelete();
            $table->foreignId('environment_id')->constrained()->cascadeOnDelete();
            $table->char('mark', 64);
            $table->json('reads');
            $table->json('columns');
            $table->json('about');
            $table->unsignedBigInteger('rows')->default(0);
            $table->unsignedBigInteger('bytes')->default(0);
            $table->boolean('whole')->default(false);
            $table->dateTime('read_at', 6);
            $table->dateTime('used_at', 6)->index();
            $table->index(['user_id', 'environment_id', 'mark']);
        });
        Schema::create('query_result_parts', function (Blueprint $table): void {
            $table->foreignId('result_id')->constrained('query_results')->cascadeOnDelete();
            $table->unsignedInteger('part');
            $table->binary('content');
            $table->primary(['result_id', 'part']);
        });
        Schema::getConnection()->statement('ALTER TABLE query_result_parts MODIFY content MEDIUMBLOB NOT NULL');
    }
};
